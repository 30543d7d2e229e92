/** Certification campaigns: what is judged, by whom, by when, and what becomes of it. */
@org.jspecify.annotations.NullMarked
package glenmoor.core.campaigns;
