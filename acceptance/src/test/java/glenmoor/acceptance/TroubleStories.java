package glenmoor.acceptance;

import org.junit.platform.suite.api.SelectClasses;
import org.junit.platform.suite.api.Suite;

/** What goes wrong around the service, told to a demo of its own beside the other. */
@Suite
@SelectClasses({TroubleTest.class, KilledTest.class, ChanceTest.class})
class TroubleStories {}
