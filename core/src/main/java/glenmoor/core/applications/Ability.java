package glenmoor.core.applications;

import java.util.Locale;

/** One thing that a connector can do in its application. */
public enum Ability {
  /** Makes accounts, and disables and enables them. */
  CREATE("make accounts"),
  DELETE("delete accounts"),
  /** Gives an account another name. */
  RENAME("rename accounts"),
  /** Keeps accounts in containers, and moves them from one to another. */
  MOVE("keep accounts in containers"),
  GROUPS("put accounts into groups"),
  ROLES("give roles to accounts"),
  PASSWORDS("set passwords"),
  /** Shows whether a password is still the one that was set. */
  PASSWORD_CHANGES("tell whether a password was changed"),
  /** Knows groups that an account looks after, and makes them another one's. */
  OWNED_GROUPS("hand over groups that somebody looks after"),
  /** Tells when an account was last used. */
  LAST_USE("tell when an account was last used"),
  /** Lists all accounts, page by page. */
  LIST_ACCOUNTS("list accounts"),
  /** Lists who is in what, page by page. */
  LIST_MEMBERSHIPS("list memberships"),
  /** Lists what changed since it was last asked. */
  CHANGES("tell what changed"),
  /** Takes what is to be changed as a file, and answers later with one of what it has. */
  FILES("take changes as files");

  private final String sentence;

  Ability(String sentence) {
    this.sentence = sentence;
  }

  /** The word of it in the API, such as {@code list-accounts}. */
  public String word() {
    return name().toLowerCase(Locale.ROOT).replace('_', '-');
  }

  /** What one can do with it, after "can". */
  public String sentence() {
    return sentence;
  }
}
