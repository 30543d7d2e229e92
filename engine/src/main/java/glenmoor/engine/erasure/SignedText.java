package glenmoor.engine.erasure;

import java.util.Collection;

/**
 * A table of texts that somebody signed for. Before such a text changes, because it says who
 * somebody was, what was signed is kept as a digest: the signature can be looked at afterwards,
 * too.
 */
public interface SignedText {
  String table();

  /** Keeps the digests of these rows as they stand, inside the caller's transaction. */
  void keep(Collection<Long> ids);
}
