/** Rounds of campaigns: launched, judged, carried out, followed to their end, and shown. */
@org.jspecify.annotations.NullMarked
package glenmoor.engine.campaigns;
