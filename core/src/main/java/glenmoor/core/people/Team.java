package glenmoor.core.people;

import java.util.List;

/**
 * People who approve or carry out tasks together.
 *
 * @param members their worker numbers
 */
public record Team(String key, String name, List<String> members) {}
