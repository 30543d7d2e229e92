package glenmoor.core.requests;

import java.util.List;

/**
 * An approval policy.
 *
 * @param askedLetter the letter that tells somebody they are asked, or reminds them; empty for none
 * @param askedChat the chat in which they are asked as well, with buttons; empty for none
 * @param settledLetter the letter that tells how it ended; empty for none
 */
public record Route(
    String key,
    String name,
    List<StageRule> stages,
    String askedLetter,
    String askedChat,
    String settledLetter) {}
