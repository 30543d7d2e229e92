package glenmoor.engine;

import tools.jackson.databind.JacksonModule;
import tools.jackson.databind.json.JsonMapper;
import tools.jackson.databind.module.SimpleModule;
import tools.jackson.databind.ser.std.ToStringSerializer;

/**
 * JSON as the API gives it: whole numbers of 64 bits are texts, because many readers take a number
 * for a double and would bend an identity (RFC 8259, section 6). Reading takes them either way.
 */
public final class ApiJson {
  private static final JsonMapper MAPPER = JsonMapper.builder().addModule(longsAsTexts()).build();

  private ApiJson() {}

  /** For whatever writes what the API hands on. */
  public static JacksonModule longsAsTexts() {
    return new SimpleModule("longs-as-texts")
        .addSerializer(Long.class, ToStringSerializer.instance)
        .addSerializer(Long.TYPE, ToStringSerializer.instance);
  }

  public static JsonMapper mapper() {
    return MAPPER;
  }
}
