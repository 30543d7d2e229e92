package glenmoor.store;

import jakarta.inject.Named;
import java.util.ArrayList;
import java.util.Collection;
import java.util.List;
import java.util.Set;
import java.util.stream.Collectors;
import org.apache.ibatis.mapping.MappedStatement;
import org.apache.ibatis.mapping.ResultFlag;
import org.apache.ibatis.mapping.ResultMap;
import org.apache.ibatis.mapping.ResultMapping;
import org.apache.ibatis.reflection.SystemMetaObject;
import org.apache.ibatis.session.Configuration;
import org.apache.ibatis.session.SqlSessionFactory;
import org.springframework.beans.factory.SmartInitializingSingleton;

/**
 * Tells MyBatis once how each record is made of its columns: a component {@code observedSince} is
 * the column {@code observed_since}. Left to itself it finds that out anew for every row, by
 * reflection, which was a third of the time of reading many.
 */
@Named
public final class RecordRows implements SmartInitializingSingleton {
  private final SqlSessionFactory sessions;

  public RecordRows(SqlSessionFactory sessions) {
    this.sessions = sessions;
  }

  @Override
  public void afterSingletonsInstantiated() {
    var configuration = sessions.getConfiguration();
    for (var statement : statements(configuration)) {
      var maps = statement.getResultMaps();
      if (maps.stream().anyMatch(RecordRows::isImplied)) {
        SystemMetaObject.forObject(statement)
            .setValue(
                "resultMaps",
                maps.stream()
                    .map(map -> isImplied(map) ? explicit(configuration, map) : map)
                    .toList());
      }
    }
  }

  /** The collection also has stand-ins for short names that two statements share. */
  private static Set<MappedStatement> statements(Configuration configuration) {
    Collection<?> all = configuration.getMappedStatements();
    return all.stream()
        .filter(MappedStatement.class::isInstance)
        .map(MappedStatement.class::cast)
        .collect(Collectors.toSet());
  }

  private static boolean isImplied(ResultMap map) {
    return map.getType().isRecord() && map.getResultMappings().isEmpty();
  }

  private static ResultMap explicit(Configuration configuration, ResultMap map) {
    var mappings = new ArrayList<ResultMapping>();
    for (var component : map.getType().getRecordComponents()) {
      mappings.add(
          new ResultMapping.Builder(
                  configuration, component.getName(), Columns.of(component), component.getType())
              .flags(List.of(ResultFlag.CONSTRUCTOR))
              .build());
    }
    return new ResultMap.Builder(configuration, map.getId(), map.getType(), mappings, false)
        .build();
  }
}
