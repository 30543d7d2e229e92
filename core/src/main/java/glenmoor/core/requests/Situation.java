package glenmoor.core.requests;

import java.time.Instant;
import java.util.Map;

/**
 * The world around a line at a moment.
 *
 * @param view what the conditions of stages see
 */
public record Situation(Organisation organisation, Map<String, Object> view, Instant now) {}
