/** Applications that speak SCIM 2.0, and can be told to fail. */
@org.jspecify.annotations.NullMarked
package glenmoor.standins.applications;
