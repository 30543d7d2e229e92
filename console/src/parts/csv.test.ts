import { expect, it } from "vitest";
import { toCsv } from "./csv";

it("quotes what has commas, quotes or line ends", () => {
  expect(toCsv([["a,b", 'say "so"', "two\nlines", "plain"]])).toBe(
    '"a,b","say ""so""","two\nlines",plain\r\n',
  );
});

it("takes the sting out of what a spreadsheet would run", () => {
  expect(toCsv([["=1+1", "@sum", "-5"]])).toBe("'=1+1,'@sum,'-5\r\n");
});
