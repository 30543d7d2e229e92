package glenmoor.engine.erasure;

import glenmoor.core.erasure.Mentions.Term;
import glenmoor.core.ledger.LedgerEntry;
import glenmoor.core.people.Latin;
import glenmoor.core.people.Standing;
import glenmoor.engine.definitions.Catalogues;
import glenmoor.engine.ledger.Ledger;
import glenmoor.engine.names.NameChanges;
import glenmoor.engine.time.Clock;
import glenmoor.store.erasure.ErasureMapper;
import glenmoor.store.erasure.ErasureMapper.Erasure;
import glenmoor.store.erasure.ErasureMapper.InTheWay;
import glenmoor.store.erasure.PersonalText;
import glenmoor.store.people.FactsJson;
import glenmoor.store.people.PersonMapper;
import glenmoor.store.people.PersonRow;
import jakarta.inject.Named;
import java.time.LocalDate;
import java.util.ArrayList;
import java.util.Collection;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.stream.Collectors;
import java.util.stream.Stream;
import tools.jackson.databind.json.JsonMapper;

/**
 * Erases who somebody was who has left. Their worker number stays, so that a source that still
 * names them does not bring them back; and what happened stays, without whom it happened to. What
 * stands in texts about others, and in versions of records before, is taken out after that: see
 * {@link Forgetting}.
 */
@Named
public final class Erasing {
  private static final JsonMapper JSON = JsonMapper.shared();

  /** What is under way, and comes to an end without anybody. */
  private static final Set<String> PASSES = Set.of("operation", "message");

  private static final int LONG_ENOUGH = 5;

  private final ErasureMapper erasures;
  private final PersonMapper people;
  private final NameChanges names;
  private final Leaves leaves;
  private final List<SignedText> signed;
  private final Catalogues catalogues;
  private final Ledger ledger;
  private final Clock clock;

  Erasing(
      ErasureMapper erasures,
      PersonMapper people,
      NameChanges names,
      Leaves leaves,
      List<SignedText> signed,
      Catalogues catalogues,
      Ledger ledger,
      Clock clock) {
    this.erasures = erasures;
    this.people = people;
    this.names = names;
    this.leaves = leaves;
    this.signed = signed;
    this.catalogues = catalogues;
    this.ledger = ledger;
    this.clock = clock;
  }

  /**
   * What stands in the way.
   *
   * @param why without a full stop
   * @param passes whether it goes away by itself
   */
  public record Hindered(String why, boolean passes) {}

  /**
   * What stands in the way of it; nothing where it can be done.
   *
   * @param run the run that would do it, and is not in its own way; 0 to try it outside of any,
   *     whatever playbooks go on
   */
  public Optional<Hindered> inTheWay(PersonRow row, long run) {
    var person = FactsJson.person(row, catalogues.current().facts());
    var standing = Standing.of(person, today());
    if (standing == Standing.ERASED) {
      return Optional.empty();
    }
    if (standing != Standing.LEFT) {
      return Optional.of(new Hindered("%s has not left".formatted(row.name()), false));
    }
    if (!Standing.of(person.bySource(), today()).isGone()) {
      return Optional.of(
          new Hindered(
              "%s was cut off, and their source still says that they are here"
                  .formatted(row.name()),
              false));
    }
    var found = erasures.inTheWay(row.id(), run, today());
    if (found.isEmpty()) {
      return Optional.empty();
    }
    var why =
        found.stream()
            .collect(Collectors.groupingBy(InTheWay::what, LinkedHashMap::new, Collectors.toList()))
            .entrySet()
            .stream()
            .map(each -> sentence(each.getKey(), each.getValue()))
            .collect(Collectors.joining("; "));
    return Optional.of(
        new Hindered(why, found.stream().allMatch(each -> PASSES.contains(each.what()))));
  }

  private static String sentence(String what, Collection<InTheWay> all) {
    var which = all.stream().map(InTheWay::which).distinct().collect(Collectors.joining(", "));
    return switch (what) {
      case "account" -> "they still have an account in %s: delete it first".formatted(which);
      case "operation" -> "operations in %s wait to be done".formatted(which);
      case "run" -> "another playbook goes on for them: " + which;
      case "request" -> "it is still asked for them to have " + which;
      case "review" -> "what they had is still judged: " + which;
      case "message" -> "a letter about them was not sent yet: " + which;
      case "difference" -> "a difference of theirs waits to be settled in " + which;
      case "service-account" -> "they answer for service accounts, hand those over first: " + which;
      default -> "they have duties, hand those over first: " + which;
    };
  }

  private LocalDate today() {
    return clock.instant().atZone(catalogues.current().zone()).toLocalDate();
  }

  /**
   * Erases them, inside the caller's transaction; done twice it is the same as once.
   *
   * @param cause what led to it, such as {@code run:7/3}
   */
  public void erase(PersonRow row, String cause) {
    var locked = people.lock(List.of(row.id())).getFirst();
    if (locked.erasedOn() != null) {
      return;
    }
    var now = clock.instant();
    var worker = locked.workerNumber();
    var terms = terms(locked);
    var items = erasures.items(row.id());
    signed.stream()
        .filter(each -> each.table().equals("campaign_item") && !items.isEmpty())
        .forEach(each -> each.keep(items));
    PersonalText.ALL.forEach(text -> erasures.erase(text, row.id(), worker, now));
    leaves.erase(worker);
    erasures.erasePerson(row.id(), today());
    names.tell(row.id());
    erasures.insert(new Erasure(row.id(), now, JSON.writeValueAsString(terms)));
    ledger.append(
        new LedgerEntry(
            now, "glenmoor", cause, "person:" + worker, "person-erased", Map.of(), Map.of()));
  }

  /**
   * What names them, and what is put in its place. Their sign-ins have another name from now on.
   */
  private List<Term> terms(PersonRow row) {
    var worker = row.workerNumber();
    var terms = new LinkedHashMap<String, String>();
    var names = erasures.names(row.id());
    names.forEach(name -> terms.put(name, worker));
    erasures.facts(row.id()).stream()
        .flatMap(facts -> texts(facts).stream())
        .filter(text -> text.contains("@"))
        .forEach(address -> terms.put(address, worker));
    erasures.partnerAddresses(worker).forEach(address -> terms.put(address, worker));
    erasures.accounts(row.id()).forEach(name -> terms.put(name, worker));
    var number = 0;
    for (var name : erasures.signIns(row.id())) {
      number++;
      var as = "erased-" + row.id() + (number == 1 ? "" : "-" + number);
      erasures.copySignIn(name, as);
      erasures.moveDuties(name, as);
      erasures.moveTokens(name, as);
      erasures.dropSavedAsks(name);
      erasures.dropSignIn(name);
      terms.put(name, as);
    }
    var ofNames =
        names.stream()
            .flatMap(name -> Stream.of(Latin.letters(name).split("[^a-z0-9]+")))
            .collect(Collectors.toSet());
    return terms.entrySet().stream()
        .filter(each -> each.getKey().codePoints().anyMatch(Character::isLetterOrDigit))
        .map(each -> new Term(each.getKey(), each.getValue(), mayBeAWord(each.getKey(), ofNames)))
        .toList();
  }

  /**
   * Whether it may be a word of the language as well, such as the sign-in {@code will} or an
   * account called by a given name, {@code grace}: within a sentence it would not be known for
   * theirs.
   */
  private static boolean mayBeAWord(String text, Set<String> ofNames) {
    return text.codePoints().allMatch(Character::isLetter)
        && (text.length() < LONG_ENOUGH || ofNames.contains(Latin.letters(text)));
  }

  private static List<String> texts(String facts) {
    var texts = new ArrayList<String>();
    JSON.readTree(facts)
        .forEach(value -> {
          if (value.isString()) {
            texts.add(value.asString());
          }
        });
    return texts;
  }
}
