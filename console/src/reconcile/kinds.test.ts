import { expect, test } from "vitest";
import { differences, inOneLine } from "./kinds";

test("what should be there and what is stand side by side, whichever of them is missing", () => {
  const drift = { expected: { title: "deckhand", mail: "" }, found: { title: "captain", name: "x" } };
  expect(differences(drift)).toEqual([
    { name: "mail", expected: "", found: "" },
    { name: "name", expected: "", found: "x" },
    { name: "title", expected: "deckhand", found: "captain" },
  ]);
  const extra = { kind: "extra-entitlement", expected: {}, found: { entitlement: "directory/finance" } };
  expect(inOneLine(extra)).toBe("entitlement: nothing → directory/finance");
});

test("of an account that is nobody's only what is known of it is said", () => {
  const stray = { kind: "stray-account", expected: {}, found: { cn: "Bridge printer", state: "enabled" } };
  expect(inOneLine(stray)).toBe("cn: Bridge printer; state: enabled");
});
