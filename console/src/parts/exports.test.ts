import { expect, it } from "vitest";
import { toCsv, width } from "./exports";

it("quotes what has commas, quotes or line ends", () => {
  expect(toCsv([["a,b", 'say "so"', "two\nlines", "plain"]])).toBe(
    '"a,b","say ""so""","two\nlines",plain\r\n',
  );
});

it("takes the sting out of what a spreadsheet would run", () => {
  expect(toCsv([["=1+1", "@sum", "-5"]])).toBe("'=1+1,'@sum,'-5\r\n");
});

it("makes a column wide enough for most, and never for a sentence", () => {
  expect(width(["Name", "Una Kerrow"])).toBe(12);
  expect(width(["a"])).toBe(8);
  expect(width(Array(5).fill("x".repeat(300)))).toBe(60);
  expect(width([...Array(40).fill("short"), "x".repeat(300)])).toBe(8);
});
