/** The one question that every use case asks first: may this actor do this to that. */
@org.jspecify.annotations.NullMarked
package glenmoor.engine.authorization;
