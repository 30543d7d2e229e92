package glenmoor.core.lifecycle;

import glenmoor.core.people.WorkerNumber;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.function.Predicate;
import org.jspecify.annotations.Nullable;

/**
 * Checks across the rows of one feed: worker numbers that appear twice, managers nobody knows, and
 * circles of managers.
 *
 * <p>Rows are kept as a number and a link to their manager's row, so a feed of a million rows needs
 * one map of worker numbers and two int arrays. Following the links marks each row once: the cost
 * is linear.
 */
public final class ManagerChain {
  private static final int NONE = -1;
  private static final int OUTSIDE = -2;

  private final Map<String, Integer> rows = new HashMap<>();
  private final List<String> workers = new ArrayList<>();
  private final List<@Nullable String> managers = new ArrayList<>();
  private long[] lines = new long[1024];
  private boolean[] bad = new boolean[1024];

  /**
   * Adds a good row.
   *
   * @return the line on which the same worker number already stood, or 0
   */
  public long add(String worker, @Nullable String manager, long line) {
    var earlier = rows.putIfAbsent(WorkerNumber.key(worker), workers.size());
    if (earlier != null) {
      return lines[earlier];
    }
    if (workers.size() == lines.length) {
      lines = Arrays.copyOf(lines, lines.length * 2);
      bad = Arrays.copyOf(bad, bad.length * 2);
    }
    lines[workers.size()] = line;
    workers.add(worker);
    managers.add(manager == null || manager.isEmpty() ? null : manager);
    return 0;
  }

  public int size() {
    return workers.size();
  }

  /**
   * Finds the rows to reject because of their manager.
   *
   * @param known whether a worker number that is not among the good rows is known already
   * @param rejectedLines on which line a row was rejected, by the key of its worker number
   */
  public List<Reject> check(
      String column, Predicate<String> known, Map<String, Long> rejectedLines) {
    var rejects = new ArrayList<Reject>();
    var links = links(known);
    unknown(column, links, rejectedLines, rejects);
    circles(column, links, rejects);
    cascade(column, links, known, rejects);
    return rejects;
  }

  private int[] links(Predicate<String> known) {
    var links = new int[workers.size()];
    for (var row = 0; row < links.length; row++) {
      var manager = managers.get(row);
      var link = manager == null ? null : rows.get(WorkerNumber.key(manager));
      links[row] =
          manager == null ? NONE : link != null ? link : known.test(manager) ? NONE : OUTSIDE;
    }
    return links;
  }

  private void unknown(
      String column, int[] links, Map<String, Long> rejectedLines, List<Reject> rejects) {
    for (var row = 0; row < links.length; row++) {
      if (links[row] == OUTSIDE) {
        var manager = String.valueOf(managers.get(row));
        var line = rejectedLines.get(WorkerNumber.key(manager));
        bad[row] = true;
        rejects.add(
            new Reject(
                lines[row],
                workers.get(row),
                column,
                manager,
                line == null
                    ? "the worker number of a person in this feed or already known"
                    : "a manager whose own row can be used; line " + line + " was rejected"));
      }
    }
  }

  private void circles(String column, int[] links, List<Reject> rejects) {
    var visit = new int[links.length];
    for (var start = 0; start < links.length; start++) {
      var row = start;
      while (row >= 0 && visit[row] == 0) {
        visit[row] = start + 1;
        row = links[row];
      }
      if (row >= 0 && visit[row] == start + 1 && !bad[row]) {
        rejectCircle(column, links, row, rejects);
      }
    }
  }

  private void rejectCircle(String column, int[] links, int from, List<Reject> rejects) {
    var names = new ArrayList<String>();
    var row = from;
    do {
      names.add(workers.get(row));
      row = links[row];
    } while (row != from);
    names.add(workers.get(from));
    var circle = String.join(" → ", names);
    do {
      bad[row] = true;
      rejects.add(
          new Reject(
              lines[row],
              workers.get(row),
              column,
              String.valueOf(managers.get(row)),
              "managers that do not form a circle: " + circle));
      row = links[row];
    } while (row != from);
  }

  /** Whoever reports to a rejected row, and is not known from before, has no manager here. */
  private void cascade(String column, int[] links, Predicate<String> known, List<Reject> rejects) {
    var again = !rejects.isEmpty();
    while (again) {
      again = false;
      for (var row = 0; row < links.length; row++) {
        var link = links[row];
        if (!bad[row] && link >= 0 && bad[link] && !known.test(workers.get(link))) {
          bad[row] = true;
          again = true;
          rejects.add(
              new Reject(
                  lines[row],
                  workers.get(row),
                  column,
                  workers.get(link),
                  "a manager whose own row can be used; line " + lines[link] + " was rejected"));
        }
      }
    }
  }
}
