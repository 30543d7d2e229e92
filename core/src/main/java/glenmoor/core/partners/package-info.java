/**
 * People of other organisations who ask for access themselves, and anybody whose record waits until
 * somebody agrees that they count.
 */
@org.jspecify.annotations.NullMarked
package glenmoor.core.partners;
