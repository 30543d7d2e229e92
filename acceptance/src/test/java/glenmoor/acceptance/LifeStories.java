package glenmoor.acceptance;

import org.junit.platform.suite.api.SelectClasses;
import org.junit.platform.suite.api.Suite;

/** What people live through, told in order to one demo. */
@Suite
@SelectClasses({
  FirstMorningTest.class,
  AprilTest.class,
  FaultsTest.class,
  ConsoleTest.class,
  HeldTest.class,
  MatrixTest.class,
  DoorsTest.class,
  DriftTest.class,
  EveryKindTest.class,
  CutOffTest.class
})
class LifeStories {}
