package glenmoor.core.letters;

import java.time.Instant;
import org.jspecify.annotations.Nullable;

/**
 * What was told to somebody, or is to be.
 *
 * @param kind letter, or the kind of its channel
 * @param subject what it is about; of what is no letter, what is said
 * @param state waiting, sent or failed
 * @param reason why it waits or failed, as a sentence
 * @param answer what the other end calls it, such as the number of a ticket
 */
public record Message(
    Long id,
    String kind,
    String channel,
    @Nullable String worker,
    @Nullable String person,
    @Nullable String recipient,
    String address,
    String template,
    String subject,
    String body,
    String html,
    String state,
    Integer tries,
    Instant createdAt,
    @Nullable Instant dueAt,
    @Nullable Instant settledAt,
    String reason,
    String answer,
    @Nullable Long run) {}
