package glenmoor.engine;

import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;

/** A test that has an environment of its own, with the small Skerry Line defined in it. */
public abstract class EngineTest {
  protected TestEnvironment environment;

  @BeforeEach
  protected final void open() {
    environment = new TestEnvironment().defined();
  }

  @AfterEach
  protected final void close() {
    environment.close();
  }
}
