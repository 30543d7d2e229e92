package glenmoor.server;

import com.fasterxml.jackson.databind.JavaType;
import glenmoor.engine.ApiJson;
import io.swagger.v3.core.converter.AnnotatedType;
import io.swagger.v3.core.converter.ModelConverter;
import io.swagger.v3.core.converter.ModelConverterContext;
import io.swagger.v3.core.util.Json;
import io.swagger.v3.oas.models.OpenAPI;
import io.swagger.v3.oas.models.info.Info;
import io.swagger.v3.oas.models.media.Schema;
import io.swagger.v3.oas.models.media.StringSchema;
import io.swagger.v3.oas.models.servers.Server;
import java.util.Arrays;
import java.util.Iterator;
import java.util.List;
import org.jspecify.annotations.Nullable;
import org.springdoc.core.customizers.OpenApiCustomizer;
import org.springdoc.core.utils.SpringDocUtils;
import org.springframework.context.annotation.Bean;
import org.springframework.context.annotation.Configuration;
import tools.jackson.databind.JacksonModule;

/** What the OpenAPI document (3.1) says beyond what can be read off the handlers. */
@Configuration(proxyBeanMethods = false)
class ApiDocument {
  static {
    // As ApiJson writes them.
    var text = new StringSchema().description("A whole number of 64 bits, as a text");
    SpringDocUtils.getConfig()
        .replaceWithSchema(Long.class, text)
        .replaceWithSchema(Long.TYPE, text);
  }

  @Bean
  JacksonModule longsAsTexts() {
    return ApiJson.longsAsTexts();
  }

  @Bean
  OpenApiCustomizer about() {
    return document -> {
      document.setInfo(
          new Info()
              .title("Glenmoor")
              .version("v1")
              .description(
                  "Lists take limit and after and return items and next. Errors are problem documents (RFC 9457). Long work answers 202 with the address of its progress."));
      document.setServers(List.of(new Server().url("/")));
      anyJson(document);
    };
  }

  /** Parts that are whatever JSON they are, not objects with the parts of a tree's node. */
  private static void anyJson(OpenAPI document) {
    document.getComponents().getSchemas().put("JsonNode", new Schema<>().description("Any JSON"));
  }

  /** Every component of a record is there, unless it says that it may be null. */
  @Bean
  ModelConverter presence() {
    return new ModelConverter() {
      @Override
      public @Nullable Schema<?> resolve(
          AnnotatedType type, ModelConverterContext context, Iterator<ModelConverter> chain) {
        if (!chain.hasNext()) {
          return null;
        }
        var schema = chain.next().resolve(type, context, chain);
        JavaType java = Json.mapper().constructType(type.getType());
        if (java != null && java.getRawClass().isRecord() && schema != null) {
          var name = schema.get$ref() == null ? null : schema.get$ref().replaceFirst(".*/", "");
          var model = name == null ? schema : context.getDefinedModels().get(name);
          if (model != null) {
            require(java.getRawClass(), model);
          }
        }
        return schema;
      }
    };
  }

  private static void require(Class<?> record, Schema<?> model) {
    var properties = model.getProperties();
    if (properties == null) {
      return;
    }
    model.setRequired(
        Arrays.stream(record.getRecordComponents())
            .filter(each -> !each.getAnnotatedType().isAnnotationPresent(Nullable.class))
            .map(each -> each.getName())
            .filter(properties::containsKey)
            .toList());
  }
}
