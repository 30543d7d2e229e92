/** Playbooks: steps that are carried out when something happens to a person. */
@NullMarked
package glenmoor.core.playbooks;

import org.jspecify.annotations.NullMarked;
