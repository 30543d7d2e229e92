package glenmoor.core.people;

/** The stable key of a person in the HR source; never reused. */
public record WorkerNumber(String value) implements Comparable<WorkerNumber> {
  public WorkerNumber {
    if (value.isBlank()) {
      throw new IllegalArgumentException("A worker number cannot be empty.");
    }
  }

  @Override
  public int compareTo(WorkerNumber other) {
    return value.compareTo(other.value);
  }

  @Override
  public String toString() {
    return value;
  }
}
