package glenmoor.bench;

import java.nio.file.Path;
import java.util.Arrays;

/**
 * Runs benchmarks against the real service.
 *
 * <p>Arguments: the checkout, a directory for data, MariaDB's port, and which benchmark, or {@code
 * all}.
 */
public final class Bench {
  private Bench() {}

  public static void main(String[] arguments) throws Exception {
    var environment =
        new BenchmarkEnvironment(
            Path.of(arguments[0]), Path.of(arguments[1]), Integer.parseInt(arguments[2]));
    var which = arguments[3];
    if (!which.matches("feed|scim|plan|leavers|flood|lists|reconcile|requests|campaigns|all")) {
      System.err.println(
          "There is no benchmark "
              + which
              + "; there are feed, scim, plan, leavers, flood, lists, reconcile, requests and campaigns.");
      System.exit(2);
    }
    if (which.matches("feed|all")) {
      FeedBench.run(environment);
    }
    if (which.matches("plan|all")) {
      PlanBench.run(environment);
    }
    if (which.matches("leavers|all")) {
      LeaversBench.run(environment);
    }
    if (which.matches("flood|all")) {
      FloodBench.run(environment);
    }
    if (which.matches("lists|all")) {
      ListsBench.run(environment);
    }
    if (which.matches("reconcile|all")) {
      ReconcileBench.run(environment);
    }
    if (which.matches("requests|all")) {
      RequestsBench.run(environment);
    }
    if (which.matches("campaigns|all")) {
      CampaignsBench.run(environment);
    }
    if (which.matches("scim|all")) {
      ScimBench.run(environment);
    }
  }

  /**
   * The value that so many of a hundred are not above: of the sorted values the one whose number,
   * counted from one, is that share of them, rounded up.
   */
  static double percentile(int percent, double[] values) {
    var sorted = values.clone();
    Arrays.sort(sorted);
    return sorted[Math.ceilDiv(percent * sorted.length, 100) - 1];
  }

  /** Prints one comparison. */
  static void compare(String what, double ours, String baseline, double theirs, String aim) {
    System.out.printf(
        "%-44s %8.2f s%n%-44s %8.2f s%n%-44s %8.2f   (aim: %s)%n%n",
        what, ours, "  baseline: " + baseline, theirs, "  ratio", ours / theirs, aim);
  }
}
