/** People of other organisations who ask for access themselves, and people who count only later. */
@org.jspecify.annotations.NullMarked
package glenmoor.engine.partners;
