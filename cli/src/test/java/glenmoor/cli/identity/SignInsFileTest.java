package glenmoor.cli.identity;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import glenmoor.cli.Client;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** A file of sign-ins is right as a whole, or nothing of it is sent. */
class SignInsFileTest {
  @TempDir private Path directory;

  @BeforeEach
  void passwords() throws IOException {
    Files.writeString(directory.resolve("una.secret"), "for una only\n");
    Files.writeString(directory.resolve("tam.secret"), "for tam only\n");
  }

  private List<SignInsFile.SignIn> read(String text) throws IOException {
    var file = Files.writeString(directory.resolve("sign-ins.csv"), text);
    return SignInsFile.read(file, directory.resolve("{}.secret").toString());
  }

  private void refused(String text, String... sentences) {
    assertThatThrownBy(() -> read(text))
        .isInstanceOf(Client.Failed.class)
        .hasMessageContainingAll(sentences);
  }

  @Test
  void each_line_is_a_sign_in_with_its_own_password() throws IOException {
    assertThat(
            read(
                "worker,sign-in,duties\r\nW-01007, una ,\r\nW-01012,tam,steward:deck  fixer:chartshare\r\n"))
        .containsExactly(
            new SignInsFile.SignIn(2, "una", "W-01007", List.of(), "for una only"),
            new SignInsFile.SignIn(
                3, "tam", "W-01012", List.of("steward:deck", "fixer:chartshare"), "for tam only"));
  }

  @Test
  void every_problem_is_said_with_its_line() {
    refused(
        "sign-in,worker,duties\nuna,,\nastrid,W-01125,\nuna,W-01007,\nuna,W-01008,\n",
        "line 2: needs a sign-in and the worker number",
        "line 3: needs the password of astrid",
        "line 5: has the sign-in una for a second time",
        "Nothing was sent");
  }

  @Test
  void a_file_without_the_columns_or_without_lines_is_refused() {
    refused("sign-in,duties\nuna,\n", "no column worker");
    refused("una,W-01007,\ntam,W-01012,\n", "no column sign-in");
    refused("sign-in,worker,duties\n", "has no sign-ins");
    refused("sign-in,worker,duties\n\"una,W-01007,\n", "line 2");
  }

  @Test
  void one_password_for_all_is_refused() {
    assertThatThrownBy(() -> SignInsFile.read(directory, "secrets/all"))
        .hasMessageContaining("a password of its own");
  }
}
