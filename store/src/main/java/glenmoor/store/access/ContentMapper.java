package glenmoor.store.access;

import java.util.Collection;
import java.util.List;
import org.apache.ibatis.annotations.Param;
import org.jspecify.annotations.NullMarked;

/** Rows of {@code package_content}: which entitlements are in which package. */
@NullMarked
public interface ContentMapper {
  /** One entitlement in one package. */
  record Content(String packageKey, String entitlement) {}

  List<Content> all();

  void add(@Param("contents") Collection<Content> contents);

  void drop(@Param("contents") Collection<Content> contents);
}
