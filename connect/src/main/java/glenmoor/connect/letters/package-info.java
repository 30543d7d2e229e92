/** Where messages go: letters by SMTP, the rest over HTTP. */
@org.jspecify.annotations.NullMarked
package glenmoor.connect.letters;
