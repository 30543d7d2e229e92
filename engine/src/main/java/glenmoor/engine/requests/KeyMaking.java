package glenmoor.engine.requests;

import glenmoor.engine.letters.LetterKeys;
import glenmoor.store.requests.DecisionKeyMapper;
import glenmoor.store.requests.DecisionKeyMapper.KeyRow;
import jakarta.inject.Named;
import java.time.Instant;

/** Makes the keys that lead approvers to a decision. */
@Named
final class KeyMaking {
  private final DecisionKeyMapper keys;
  private final LetterKeys made;

  KeyMaking(DecisionKeyMapper keys, LetterKeys made) {
    this.keys = keys;
    this.made = made;
  }

  /** A key for one person and line; only its hash is kept. */
  String make(long line, long person, Instant now, Instant expires) {
    var key = made.make();
    keys.insert(new KeyRow(LetterKeys.hash(key), line, person, now, expires, null));
    return key;
  }
}
