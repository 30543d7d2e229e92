package glenmoor.acceptance;

import java.lang.annotation.ElementType;
import java.lang.annotation.Retention;
import java.lang.annotation.RetentionPolicy;
import java.lang.annotation.Target;
import org.junit.jupiter.api.Tag;

/** What may happen on any day: no month of Skerry Line has to have passed before it. */
@Tag("any-day")
@Target(ElementType.TYPE)
@Retention(RetentionPolicy.RUNTIME)
@interface AnyDay {}
