package glenmoor.core.partners;

/**
 * What somebody accepts before they ask.
 *
 * @param version rises with each change that has to be accepted anew
 * @param text as it is read, in plain words
 */
public record TermsOfUse(String key, String name, int version, String text) {}
