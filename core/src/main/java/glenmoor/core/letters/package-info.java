/** Letters: what Glenmoor writes to people, from templates of the organisation's own. */
@NullMarked
package glenmoor.core.letters;

import org.jspecify.annotations.NullMarked;
