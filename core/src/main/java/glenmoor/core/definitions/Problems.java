package glenmoor.core.definitions;

/** Where mistakes are reported, so that all are found and not only the first. */
public interface Problems {
  void add(Tree.Place place, String sentence);
}
