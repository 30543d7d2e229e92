package glenmoor.engine.partners;

import java.util.Map;

/**
 * What somebody says of themselves and asks for.
 *
 * @param acceptedVersion of the terms; 0 for none
 */
public record Said(
    String given,
    String family,
    String mail,
    String offer,
    Map<String, String> answers,
    String reason,
    int acceptedVersion) {}
