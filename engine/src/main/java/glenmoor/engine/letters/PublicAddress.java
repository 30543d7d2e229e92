package glenmoor.engine.letters;

/**
 * Where people reach the console, for what leads them there.
 *
 * @param url without a slash at its end; empty where it is not known, and then nothing leads there
 */
public record PublicAddress(String url) {
  public PublicAddress {
    url = url.endsWith("/") ? url.substring(0, url.length() - 1) : url;
  }

  /** The address of a page; empty where it is not known. */
  public String page(String path) {
    return url.isEmpty() ? "" : url + path;
  }
}
