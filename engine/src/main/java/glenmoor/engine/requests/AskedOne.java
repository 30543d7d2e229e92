package glenmoor.engine.requests;

import glenmoor.core.requests.Approver;
import java.util.Map;
import org.jspecify.annotations.Nullable;

/**
 * Somebody who is asked.
 *
 * @param inPlaceOf whom they stand in for; null for nobody
 * @param as asked, standby or passed-on
 */
public record AskedOne(
    String worker, String name, @Nullable Who inPlaceOf, String as, boolean agreed) {
  static AskedOne of(Approver each, Map<Long, Who> names) {
    var person = names.get(each.person().value());
    return new AskedOne(
        person == null ? "" : person.worker(),
        person == null ? "" : person.name(),
        each.named().equals(each.person()) ? null : names.get(each.named().value()),
        each.as().word(),
        each.agreed());
  }
}
