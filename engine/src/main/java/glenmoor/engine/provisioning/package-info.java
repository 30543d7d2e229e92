/** Planning, the workers that carry operations out, and what people decide about faults. */
@org.jspecify.annotations.NullMarked
package glenmoor.engine.provisioning;
