/** Operations: planning the difference, and the life of one operation. */
@org.jspecify.annotations.NullMarked
package glenmoor.core.provisioning;
