package glenmoor.core.lifecycle;

import org.jspecify.annotations.Nullable;

/** One fact that is another one now; null where there was or is no value. */
public record FactChange(String fact, @Nullable Object before, @Nullable Object after) {}
