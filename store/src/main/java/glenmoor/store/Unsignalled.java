package glenmoor.store;

import java.lang.annotation.ElementType;
import java.lang.annotation.Retention;
import java.lang.annotation.RetentionPolicy;
import java.lang.annotation.Target;

/**
 * Marks a statement of a mapper that nobody has work because of: it says that somebody is still
 * there, or how far they have looked. {@link WriteSignal} is silent about it.
 */
@Retention(RetentionPolicy.RUNTIME)
@Target(ElementType.METHOD)
public @interface Unsignalled {}
