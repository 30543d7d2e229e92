/** Campaigns and reviews on the command line. */
@org.jspecify.annotations.NullMarked
package glenmoor.cli.campaigns;
