package glenmoor.core.letters;

import glenmoor.core.conditions.Expressions.Mapping;

/**
 * Who Glenmoor's letters come from, and where people get theirs.
 *
 * @param from the sender, as RFC 5322 section 3.4 writes an address: with or without a name before
 *     it
 * @param address gives the mail address of a person
 */
public record Postage(String from, Mapping address) {}
