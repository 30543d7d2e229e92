package glenmoor.engine.definitions;

import glenmoor.core.access.Catalogue;
import java.util.List;

/** What has to be there in the applications before definitions can work. */
public interface Prerequisites {
  /** What each application lacks, a sentence each; asks all of them. */
  List<String> missing(Catalogue catalogue);
}
