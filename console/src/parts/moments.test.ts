import { describe, expect, it } from "vitest";
import { away, count, day, lastDay, took } from "./moments";

describe("moments", () => {
  it("writes a calendar date without moving it to another zone", () => {
    expect(day("2027-03-14", "Pacific/Auckland")).toBe("14 Mar 2027");
  });

  it("writes a moment as the date it has in the zone", () => {
    expect(day("2027-03-14T23:30:00Z", "Pacific/Auckland")).toBe("15 Mar 2027");
  });

  it("names the last day of what ends at midnight", () => {
    expect(lastDay("2027-04-15T23:00:00Z", "Atlantic/Faroe")).toBe("15 Apr 2027");
    expect(lastDay("2027-04-15T05:55:00Z", "Atlantic/Faroe")).toBe("15 Apr 2027");
  });

  it("counts whole days to a date, whatever the hour", () => {
    expect(away("2027-03-22", new Date("2027-03-16T23:50:00Z"))).toBe("in 6 days");
    expect(away("2027-03-16", new Date("2027-03-16T05:00:00Z"))).toBe("today");
  });

  it("says minutes and hours for moments", () => {
    expect(away("2027-03-16T05:34:00Z", new Date("2027-03-16T06:00:00Z"))).toBe("26 minutes ago");
  });

  it("says how long something took in the unit that fits", () => {
    expect(took("2027-03-16T06:00:00.000Z", "2027-03-16T06:00:03.100Z")).toBe("3.1 s");
    expect(took("2027-03-16T06:00:00.000Z", "2027-03-16T06:00:00.120Z")).toBe("120 ms");
    expect(took("2027-03-16T06:00:00Z", "2027-03-16T06:04:00Z")).toBe("4 min");
    expect(took("2027-03-16T06:00:00Z", "2027-03-16T11:10:00Z")).toBe("5 h");
    expect(took("2027-03-16T06:00:00Z", "2027-03-28T06:00:00Z")).toBe("12 days");
  });

  it("knows one from many", () => {
    expect(count(1, "person", "people")).toBe("1 person");
    expect(count(1200, "person", "people")).toBe("1,200 people");
  });
});
