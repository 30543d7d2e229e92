import { expect, it } from "vitest";
import { counted, kindWord } from "./kinds";

it("says one and many of each kind", () => {
  expect(kindWord("joiner", 1)).toBe("joiner");
  expect(kindWord("leave-begins", 2)).toBe("leaves begin");
  expect(kindWord("not-known-yet", 2)).toBe("not-known-yet");
});

it("counts events, the most of a kind first", () => {
  expect(counted({ correction: 1, joiner: 1_262, mover: 3 })).toEqual([
    "1,262 joiners",
    "3 movers",
    "1 correction",
  ]);
  expect(counted({})).toEqual([]);
});
