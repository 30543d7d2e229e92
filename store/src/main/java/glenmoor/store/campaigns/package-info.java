/** Rounds of campaigns, their reviewers and items. */
@org.jspecify.annotations.NullMarked
package glenmoor.store.campaigns;
