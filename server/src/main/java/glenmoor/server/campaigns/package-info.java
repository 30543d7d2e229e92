/** Campaigns, their rounds, and what reviewers judge, over HTTP. */
@org.jspecify.annotations.NullMarked
package glenmoor.server.campaigns;
