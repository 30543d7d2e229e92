package glenmoor.engine;

import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;

/** A test that has a house of its own, with the small Skerry Line defined in it. */
public abstract class InTheHouse {
  protected House house;

  @BeforeEach
  protected final void open() {
    house = new House().defined();
  }

  @AfterEach
  protected final void close() {
    house.close();
  }
}
