package glenmoor.engine.requests;

import glenmoor.core.requests.RouteRun;
import glenmoor.store.people.PersonRow;
import glenmoor.store.requests.RequestMapper.LineRow;
import glenmoor.store.requests.RequestMapper.RequestRow;

/** A line with all that moving it has to know. */
record LoadedLine(LineRow line, RequestRow request, PersonRow subject, RouteRun run) {}
