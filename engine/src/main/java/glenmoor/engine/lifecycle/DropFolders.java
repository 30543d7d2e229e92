package glenmoor.engine.lifecycle;

import glenmoor.core.agenda.Schedule;
import glenmoor.core.authorization.Actor;
import glenmoor.core.authorization.Permission;
import glenmoor.core.jobs.Job;
import glenmoor.core.lifecycle.Source;
import glenmoor.engine.Authorization;
import glenmoor.engine.Refused;
import glenmoor.engine.definitions.Catalogues;
import glenmoor.engine.installation.InstallationState;
import glenmoor.engine.jobs.Jobs;
import glenmoor.engine.jobs.RecurringJob;
import glenmoor.engine.jobs.Schedules;
import jakarta.inject.Named;
import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.LinkOption;
import java.nio.file.NoSuchFileException;
import java.nio.file.Path;
import java.nio.file.StandardCopyOption;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.TreeMap;
import java.util.regex.Pattern;
import java.util.stream.Stream;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;

/**
 * Takes files that a source drops into a directory: loads them in the order of their names, and
 * keeps each in {@code processed} or, with the reason beside it, in {@code rejected}.
 *
 * <p>A file is taken by giving it another name, so that of two services one has it; what a service
 * took and did not begin to load before it died is given back after a while. Loading a file twice
 * changes nothing the second time.
 */
@Named
public final class DropFolders implements RecurringJob.Owner {
  private static final Logger LOG = LoggerFactory.getLogger(DropFolders.class);

  /** What changed a moment ago may still be written. */
  private static final Duration QUIET = Duration.ofSeconds(5);

  private static final Duration GIVEN_BACK = Duration.ofMinutes(10);
  private static final Pattern TAKEN = Pattern.compile("(\\d+)-(.+)");
  private static final String CLAIM = "claim-";

  private final DropDirectory home;
  private final FeedService feeds;
  private final Catalogues catalogues;
  private final Schedules schedules;
  private final InstallationState installation;
  private final Jobs jobs;

  public DropFolders(
      DropDirectory home,
      FeedService feeds,
      Catalogues catalogues,
      Schedules schedules,
      InstallationState installation,
      Jobs jobs) {
    this.home = home;
    this.installation = installation;
    this.feeds = feeds;
    this.catalogues = catalogues;
    this.schedules = schedules;
    this.jobs = jobs;
  }

  @Override
  public List<RecurringJob> recurring() {
    return List.of(
        new RecurringJob(
            "drops",
            "takes files that sources dropped, when they are due",
            Duration.ofMinutes(1),
            this::scheduled));
  }

  /** Files what was loaded, and takes what is due. */
  void scheduled() {
    // A copy leaves the files to the original.
    if (installation.quiet()) {
      return;
    }
    var wanted = new TreeMap<String, Schedule>();
    for (var source : catalogues.current().sources().values()) {
      if (home.path().isPresent() && source.drop().isPresent()) {
        file(source);
        source.drop().get().at().ifPresent(at -> wanted.put(source.key(), at));
      }
    }
    var due = new ArrayList<String>();
    schedules.due("drop", wanted, due::add);
    for (var key : due) {
      try {
        collect(key, Actor.SERVICE);
      } catch (Refused refused) {
        LOG.warn("The drop directory of {} was not taken: {}", key, refused.getMessage());
      }
    }
  }

  /**
   * Begins to load all files that lie in a source's drop directory now.
   *
   * @throws Refused if the source has none, or it cannot be read
   */
  public Collected collect(String key, Actor actor) {
    Authorization.need(actor, Permission.LOAD_FEEDS);
    installation.mayAct();
    var source = catalogues.current().sources().get(key);
    if (source == null) {
      throw Refused.notThere(
          "There is no source %s; there are %s."
              .formatted(key, String.join(", ", catalogues.current().sources().keySet())));
    }
    var directory = directory(source);
    file(source);
    var begun = new ArrayList<Collected.Begun>();
    try {
      for (var file : complete(directory)) {
        begun.add(take(source, file, actor));
      }
    } catch (NoSuchFileException taken) {
      // Another service was quicker with one of them, and takes the rest as well.
      LOG.info("{} was taken by another service", taken.getFile());
    } catch (IOException failed) {
      throw unreadable(directory, failed);
    }
    return new Collected(key, begun);
  }

  private Path directory(Source source) {
    if (home.path().isEmpty() || source.drop().isEmpty()) {
      throw new Refused(
          Refused.Reason.NOT_NOW,
          home.path().isEmpty()
              ? "This service has no drop directories: GLENMOOR_DROP_DIRECTORY says where they are."
              : "Nothing is dropped for %s: its definition has no drop.".formatted(source.name()));
    }
    var directory = home.path().get().resolve(source.drop().get().directory());
    try {
      for (var each : List.of("", "taken", "processed", "rejected")) {
        Files.createDirectories(directory.resolve(each));
      }
    } catch (IOException failed) {
      throw unreadable(directory, failed);
    }
    return directory;
  }

  private static Refused unreadable(Path directory, IOException failed) {
    LOG.warn("{} cannot be used", directory, failed);
    return new Refused(
        Refused.Reason.NOT_NOW,
        "The drop directory %s cannot be read and written by this service; its log says why."
            .formatted(directory.getFileName()));
  }

  /** Whole files, in the order of their names; no links, which may lead elsewhere. */
  private static List<Path> complete(Path directory) throws IOException {
    var before = Instant.now().minus(QUIET);
    try (Stream<Path> all = Files.list(directory)) {
      return all.filter(
              file -> file.getFileName().toString().toLowerCase(Locale.ROOT).endsWith(".csv"))
          .filter(file -> Files.isRegularFile(file, LinkOption.NOFOLLOW_LINKS))
          .filter(file -> changed(file).isBefore(before))
          .sorted()
          .toList();
    }
  }

  private static Instant changed(Path file) {
    try {
      return Files.getLastModifiedTime(file, LinkOption.NOFOLLOW_LINKS).toInstant();
    } catch (IOException gone) {
      return Instant.MAX;
    }
  }

  private Collected.Begun take(Source source, Path file, Actor actor) throws IOException {
    var name = file.getFileName().toString();
    var taken = file.resolveSibling("taken");
    var claim = taken.resolve(CLAIM + name);
    Files.move(file, claim, StandardCopyOption.ATOMIC_MOVE);
    try (var content = Files.newInputStream(claim)) {
      var work = feeds.load(source.key(), name, content, actor);
      Files.move(claim, taken.resolve(work + "-" + name), StandardCopyOption.ATOMIC_MOVE);
      return new Collected.Begun(name, work);
    }
  }

  /** Puts what was loaded where it belongs, and gives back what nobody loads. */
  private void file(Source source) {
    var directory = directory(source);
    try (Stream<Path> all = Files.list(directory.resolve("taken"))) {
      for (var file : all.toList()) {
        var name = file.getFileName().toString();
        var taken = TAKEN.matcher(name);
        if (name.startsWith(CLAIM)) {
          if (changed(file).isBefore(Instant.now().minus(GIVEN_BACK))) {
            Files.move(file, directory.resolve(name.substring(CLAIM.length())));
          }
        } else if (taken.matches()) {
          file(directory, file, taken.group(2), Long.parseLong(taken.group(1)));
        }
      }
    } catch (IOException failed) {
      throw unreadable(directory, failed);
    }
  }

  private void file(Path directory, Path file, String name, long work) throws IOException {
    Job job;
    try {
      job = jobs.of(work, Actor.SERVICE);
    } catch (Refused unknown) {
      return;
    }
    if (job.open()) {
      return;
    }
    var done = job.state().equals("done");
    var target = directory.resolve(done ? "processed" : "rejected").resolve(work + "-" + name);
    if (!done) {
      Files.writeString(
          target.resolveSibling(target.getFileName() + ".txt"),
          job.sentence() + "\n",
          StandardCharsets.UTF_8);
    }
    Files.move(file, target, StandardCopyOption.REPLACE_EXISTING);
  }
}
