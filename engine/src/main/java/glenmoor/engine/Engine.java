package glenmoor.engine;

import org.mybatis.spring.annotation.MapperScan;
import org.springframework.context.annotation.ComponentScan;
import org.springframework.context.annotation.Configuration;
import org.springframework.context.annotation.FullyQualifiedAnnotationBeanNameGenerator;

/**
 * The engine with its store, put together: each class marked {@code @Named} (JSR 330) gets what it
 * works with by its constructor, so a new one is listed nowhere. The service and the engine's tests
 * are wired by this alone.
 *
 * <p>Given from outside: a {@code DataSource} with its transaction manager and MyBatis, and a
 * {@code Clock}, a {@code ZoneId}, {@code Secrets}, {@code ConnectorSettings} and how many planners
 * there are.
 */
@Configuration(proxyBeanMethods = false)
@ComponentScan(
    basePackages = {"glenmoor.engine", "glenmoor.store"},
    nameGenerator = FullyQualifiedAnnotationBeanNameGenerator.class)
@MapperScan("glenmoor.store")
public class Engine {}
