package glenmoor.core.definitions;

import java.util.Collections;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.Map;
import java.util.Objects;
import java.util.function.Function;

/** What definitions came to, by kind and key. */
public final class Defined {
  private final Map<Class<?>, Map<String, Object>> byKind = new HashMap<>();
  private final Map<Class<?>, Object> derived = new HashMap<>();

  /** All of one kind by key, in the order in which they were read. */
  @SuppressWarnings("unchecked")
  public <T> Map<String, T> all(Class<? extends DefinitionKind<T>> kind) {
    return (Map<String, T>)
        Collections.unmodifiableMap(byKind.getOrDefault(kind, new LinkedHashMap<>()));
  }

  /** What is made of them once, such as the expressions that the facts allow. */
  public <D> D derived(Class<D> type, Function<Defined, D> make) {
    var known = derived.get(type);
    if (known == null) {
      known = Objects.requireNonNull(make.apply(this));
      derived.put(type, known);
    }
    return type.cast(known);
  }

  void put(DefinitionKind<?> kind, String key, Object read) {
    byKind.computeIfAbsent(kind.getClass(), each -> new LinkedHashMap<>()).put(key, read);
  }
}
