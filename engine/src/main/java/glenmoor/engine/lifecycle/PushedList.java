package glenmoor.engine.lifecycle;

import glenmoor.connect.lifecycle.ScimFilter;
import glenmoor.connect.lifecycle.ScimPerson;
import glenmoor.connect.lifecycle.ScimQuery;
import glenmoor.engine.lifecycle.PushService.Page;
import glenmoor.engine.lifecycle.PushService.Pushed;
import glenmoor.store.lifecycle.PushedPersonMapper;
import glenmoor.store.lifecycle.PushedPersonMapper.Order;
import glenmoor.store.lifecycle.PushedPersonMapper.PushedRow;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.function.Consumer;
import java.util.function.Function;
import java.util.stream.Collectors;
import java.util.stream.Stream;
import org.jspecify.annotations.Nullable;
import org.springframework.dao.DataAccessException;

/**
 * Lists of the people whom a client pushed. A source may have very many: no more of them are kept
 * in memory than are shown, and in an order that no index has, of each what it is ordered by.
 */
final class PushedList {
  /**
   * Which of them are shown.
   *
   * @param from how many come before
   */
  private record Window(int from, int count) {
    boolean has(int number) {
      return number >= from && number < from + count;
    }

    <T> List<T> of(List<T> all) {
      var first = Math.min(from, all.size());
      return List.copyOf(all.subList(first, Math.min(all.size(), first + count)));
    }
  }

  private record Placed(String id, String text) {}

  private static final Map<String, String> INDEXED =
      Map.of("id", "id", "username", "user", "meta.lastmodified", "modified");
  private static final String BY_ID = "id";

  private final PushedPersonMapper pushed;

  PushedList(PushedPersonMapper pushed) {
    this.pushed = pushed;
  }

  /** See {@link PushService#list}. */
  Page page(String source, ScimQuery query) {
    var filter = query.filter();
    var sortBy = query.sortBy();
    var descending = query.descending();
    var window = new Window(query.start() - 1, query.count());
    var by = sortBy == null ? BY_ID : sortBy;
    var indexed = INDEXED.get(by.toLowerCase(Locale.ROOT));
    var few = filter == null ? null : exactly(source, filter);
    if (few != null) {
      return few(few, window);
    }
    if (indexed == null) {
      return placed(source, filter, by, descending, window);
    }
    var order = new Order(indexed, descending);
    return filter == null
        ? new Page(
            pushed.page(source, order, window.from(), window.count()).stream()
                .map(Pushed::of)
                .toList(),
            pushed.count(source))
        : filtered(source, filter, order, window);
  }

  /** What is asked for before each change, whether there is one, is answered by an index. */
  private @Nullable List<PushedRow> exactly(String source, ScimFilter filter) {
    var id = filter.exactly("id");
    if (id.isPresent()) {
      return Stream.ofNullable(pushed.byId(source, id.get())).toList();
    }
    var name = filter.exactly("userName");
    if (name.isPresent()) {
      return Stream.ofNullable(pushed.byUserKey(source, PushService.key(name.get()))).toList();
    }
    return filter
        .exactly("externalId")
        .map(external -> pushed.byExternalId(source, external))
        .orElse(null);
  }

  private static Page few(List<PushedRow> rows, Window window) {
    return new Page(window.of(rows).stream().map(Pushed::of).toList(), rows.size());
  }

  private Page filtered(String source, ScimFilter filter, Order order, Window window) {
    var shown = new ArrayList<Pushed>();
    var total = new int[1];
    each(
        source,
        order,
        one -> {
          if (one.isWanted(filter)) {
            if (window.has(total[0])) {
              shown.add(one);
            }
            total[0]++;
          }
        });
    return new Page(shown, total[0]);
  }

  private void each(String source, Order order, Consumer<Pushed> each) {
    try {
      pushed.each(source, order, row -> each.accept(Pushed.of(row.getResultObject())));
    } catch (DataAccessException failed) {
      // What goes wrong while rows are gone over comes as if the database had failed.
      throw failed.getRootCause() instanceof ScimPerson.Unusable unusable ? unusable : failed;
    }
  }

  /** Who has no such attribute comes last, or first where it goes down (RFC 7644, 3.4.2.3). */
  static <T> Comparator<T> byText(Function<T, String> text, boolean descending) {
    var order = Comparator.comparing((T each) -> text.apply(each).isEmpty()).thenComparing(text);
    return descending ? order.reversed() : order;
  }

  private Page placed(
      String source, @Nullable ScimFilter filter, String by, boolean descending, Window window) {
    var places = new ArrayList<Placed>();
    each(
        source,
        new Order(BY_ID, false),
        one -> {
          if (filter == null || one.isWanted(filter)) {
            places.add(new Placed(one.id(), PushService.key(one.person().text(by))));
          }
        });
    places.sort(byText(Placed::text, descending));
    var ids = window.of(places).stream().map(Placed::id).toList();
    var found =
        ids.isEmpty()
            ? Map.<String, PushedRow>of()
            : pushed.byIds(source, ids).stream()
                .collect(Collectors.toMap(PushedRow::id, Function.identity()));
    return new Page(
        ids.stream().map(found::get).filter(row -> row != null).map(Pushed::of).toList(),
        places.size());
  }
}
