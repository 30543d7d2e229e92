/** Target systems as defined: how an account in each is named, filled and switched off. */
@org.jspecify.annotations.NullMarked
package glenmoor.core.applications;
