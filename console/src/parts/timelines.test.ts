import { describe, expect, it } from "vitest";
import { bars, months, range, type TimelineLane } from "./timelines";

const now = new Date("2027-03-16T06:00:00Z");
const lane: TimelineLane = {
  application: "directory",
  name: "Harbour Directory",
  bars: [
    {
      grant: "1",
      target: "start-kit",
      name: "Start kit",
      basis: "birthright",
      basisKey: "everyone",
      from: "2027-03-01T00:00:00Z",
      until: undefined,
      endReason: "",
      entitlements: ["All crew"],
    },
  ],
};

describe("the access timeline", () => {
  it("shows today with some weeks before and after it", () => {
    const [from, until] = range(now, [], [lane]);
    expect(from < new Date("2027-02-25")).toBe(true);
    expect(until > new Date("2027-05-01")).toBe(true);
  });

  it("marks months and says the year at the first and in January", () => {
    const texts = months(new Date("2026-11-15"), new Date("2027-03-15"), 20).map((mark) => mark.text);
    expect(texts).toEqual(["Dec ’26", "Jan ’27", "Feb", "Mar"]);
  });

  it("leaves months out where they would collide", () => {
    expect(months(new Date("2026-01-15"), new Date("2027-01-15"), 4)).toHaveLength(4);
  });

  it("suspends a bar for the part of a leave that it covers", () => {
    const [bar] = bars(lane, [{ standing: "on-leave", from: "2027-02-01", until: "2027-03-10" }]);
    expect(bar!.suspended).toEqual([
      { from: new Date("2027-03-01T00:00:00Z"), until: new Date("2027-03-10") },
    ]);
  });

  it("does not suspend a bar by a leave that was over before", () => {
    const [bar] = bars(lane, [{ standing: "on-leave", from: "2027-01-01", until: "2027-02-01" }]);
    expect(bar!.suspended).toEqual([]);
  });
});
