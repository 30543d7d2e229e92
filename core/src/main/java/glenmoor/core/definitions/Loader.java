package glenmoor.core.definitions;

import glenmoor.core.authorization.Permission;
import glenmoor.core.authorization.Scope;

/** Who may load a definition beside those who may load all of them: whoever may do this to that. */
public record Loader(Permission permission, Scope scope) {}
