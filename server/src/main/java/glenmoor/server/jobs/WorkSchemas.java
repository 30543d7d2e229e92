package glenmoor.server.jobs;

import glenmoor.engine.brakes.HeldChanges;
import glenmoor.engine.jobs.Jobs;
import glenmoor.engine.jobs.LongWork;
import io.swagger.v3.core.converter.AnnotatedType;
import io.swagger.v3.core.converter.ModelConverters;
import io.swagger.v3.oas.models.Components;
import io.swagger.v3.oas.models.media.Discriminator;
import io.swagger.v3.oas.models.media.Schema;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Set;
import org.springdoc.core.customizers.OpenApiCustomizer;
import org.springframework.context.annotation.Bean;
import org.springframework.context.annotation.Configuration;
import org.springframework.core.Ordered;
import org.springframework.core.annotation.Order;

/** Says in the OpenAPI document what each kind of long work comes to. */
@Configuration(proxyBeanMethods = false)
class WorkSchemas {
  private static final String WORK = "Work";

  @Bean
  @Order(Ordered.LOWEST_PRECEDENCE)
  OpenApiCustomizer worksByKind(Jobs jobs, HeldChanges held) {
    return document -> {
      byKind(document.getComponents(), jobs);
      forecasts(document.getComponents(), held);
    };
  }

  /** The forecast of a held change: of either kind, or nothing where many are listed. */
  private static void forecasts(Components components, HeldChanges held) {
    var change = components.getSchemas().get("HeldChange");
    if (change != null && change.getProperties() != null) {
      var forecast = new Schema<>();
      held.forecasts().forEach(each -> forecast.addAnyOfItem(reference(add(each, components))));
      forecast.addAnyOfItem(typed("object"));
      change.getProperties().put("forecast", forecast);
    }
  }

  private static void byKind(Components components, Jobs jobs) {
    var schemas = components.getSchemas();
    var common = schemas.get(WORK);
    if (common == null || common.getProperties() == null) {
      return;
    }
    var whole = new Schema<>();
    var discriminator = new Discriminator().propertyName("kind");
    for (var kind : jobs.kinds().values()) {
      var name = name(kind.kind());
      schemas.put(name, ofKind(common, kind, components));
      whole.addOneOfItem(reference(name));
      discriminator.mapping(kind.kind(), path(name));
    }
    schemas.put(WORK, whole.discriminator(discriminator));
  }

  private static Schema<?> ofKind(Schema<?> common, LongWork<?> kind, Components components) {
    var result = new Schema<>().addAnyOfItem(typed("null"));
    for (var each : kind.results()) {
      result.addAnyOfItem(reference(add(each, components)));
    }
    var properties = new LinkedHashMap<String, Schema>(common.getProperties());
    var word = typed("string");
    word.setEnum(List.of(kind.kind()));
    properties.put("kind", word);
    properties.put("result", result);
    var schema = typed("object");
    schema.setProperties(properties);
    schema.setRequired(common.getRequired());
    return schema;
  }

  /** Adds what a class is in JSON, with all it is made of; gives its name. */
  private static String add(Class<?> type, Components components) {
    var resolved =
        ModelConverters.getInstance(true).resolveAsResolvedSchema(new AnnotatedType(type));
    resolved.referencedSchemas.forEach(
        (name, schema) -> components.getSchemas().putIfAbsent(name, schema));
    return type.getSimpleName();
  }

  private static Schema<Object> typed(String type) {
    var schema = new Schema<>();
    schema.setTypes(Set.of(type));
    return schema;
  }

  private static Schema<?> reference(String name) {
    return new Schema<>().$ref(path(name));
  }

  private static String path(String name) {
    return "#/components/schemas/" + name;
  }

  /** {@code feed-load} is WorkFeedLoad. */
  private static String name(String kind) {
    var name = new StringBuilder(WORK);
    for (var part : kind.split("-")) {
      name.append(Character.toUpperCase(part.charAt(0))).append(part.substring(1));
    }
    return name.toString();
  }
}
