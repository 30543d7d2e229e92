// @vitest-environment jsdom
import { cleanup, render, screen } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { MemoryRouter } from "react-router";
import { afterEach, describe, expect, it, vi } from "vitest";
import type { Schemas } from "../api/client";
import { flow, now } from "../parts/parts-samples";
import { FeedForecast, type Forecasted } from "./feed-forecast";
import { FlowLine } from "./flow-line";

afterEach(cleanup);

const [joiner, faulty, ahead, correction] = flow as [
  Schemas["Event"],
  Schemas["Event"],
  Schemas["Event"],
  Schemas["Event"],
];

const line = (event: Schemas["Event"]) =>
  render(
    <MemoryRouter>
      <ol>
        <FlowLine event={event} now={now} zone="Atlantic/Faroe" />
      </ol>
    </MemoryRouter>,
  ).container.textContent ?? "";

describe("an event on its way", () => {
  it("that is through says how many were confirmed and how fast", () => {
    expect(line(joiner)).toMatch(/7 operations7 confirmed in 4\.2 s$/);
  });

  it("with a fault says it, and does not say confirmed", () => {
    const text = line(faulty);
    expect(text).toContain("seat limit reached");
    expect(text).not.toContain("confirmed");
  });

  it("that lies ahead says when, even if its account is ready", () => {
    expect(line(ahead)).toContain("enabled in 6 days");
  });

  it("that touches no access says so", () => {
    expect(line(correction)).toContain("no access touched");
  });

  it("that waits says how far it is", () => {
    expect(line({ ...joiner, confirmed: 3, sent: 4, confirmedAt: undefined })).toContain("3 of 7 confirmed");
  });
});

const forecast: Forecasted = {
  rows: 250,
  rejected: 1,
  rejects: [{ line: "9", worker: "W-1", column: "First day", found: "soon", expected: "a date" }],
  events: { joiner: 2, leaver: 1 },
  warnings: [],
  sum: {
    people: 3,
    losing: 1,
    gaining: { people: 0, privileged: 0, conflicting: 0 },
    events: { joiner: 2, leaver: 1 },
    coming: {},
    troubled: [],
    operations: 12,
    operationsByKind: { create: 2, add: 9, disable: 1 },
    byApplication: { directory: { losses: 4, gains: 8 } },
    accounts: {},
    conflicts: {},
    groupedBy: "Department",
    byGroup: {
      Deck: { losses: 0, gains: 8 },
      Freight: { losses: 4, gains: 0 },
      Idle: { losses: 0, gains: 0 },
    },
    lines: [
      { worker: "W-2", name: "Bo Tarn", event: "leaver", gains: [], losses: ["Crew"], operations: 1 },
      {
        worker: "W-3",
        name: "Lin Dock",
        event: "correction",
        gains: [],
        losses: [],
        operations: 0,
        next: "2027-04-30T23:00:00Z",
      },
    ],
  },
};

describe("a feed's forecast", () => {
  const show = (of: Forecasted) => {
    const load = vi.fn();
    const drop = vi.fn();
    render(<FeedForecast name="april.csv" forecast={of} zone="Atlantic/Faroe" load={load} drop={drop} />);
    return { load, drop };
  };

  it("sets out gains and losses, by department or by application", async () => {
    show(forecast);
    expect(screen.getByRole("img").getAttribute("aria-label")).toBe(
      "By department: Deck loses 0, gains 8; Freight loses 4, gains 0",
    );
    await userEvent.click(screen.getByRole("button", { name: "application" }));
    expect(screen.getByRole("img").getAttribute("aria-label")).toContain("directory loses 4, gains 8");
  });

  it("names everybody it touches and every row it would rejected", () => {
    show(forecast);
    const list = screen.getByRole("list", { name: "Everybody it touches" });
    expect(list.textContent).toContain("Bo Tarn W-2");
    expect(list.textContent).toContain("− Crew");
    expect(list.textContent).toContain("nothing now, something on 1 May 2027");
    expect(screen.getByText(/line 9/).textContent).toContain("soon");
  });

  it("says on the button what loading does, and does nothing until it is pressed", async () => {
    const { load, drop } = show(forecast);
    expect(load).not.toHaveBeenCalled();
    await userEvent.click(screen.getByRole("button", { name: "Load it: 12 operations now" }));
    expect(load).toHaveBeenCalledOnce();
    await userEvent.click(screen.getByRole("button", { name: "Drop it" }));
    expect(drop).toHaveBeenCalledOnce();
  });

  it("of a file that changes nothing says so", () => {
    const nothing = {
      people: 0,
      losing: 0,
      gaining: { people: 0, privileged: 0, conflicting: 0 },
      events: {},
      coming: {},
      troubled: [],
      operations: 0,
      operationsByKind: {},
      byApplication: {},
      accounts: {},
      conflicts: {},
      groupedBy: "Department",
      byGroup: {},
      lines: [],
    };
    show({ ...forecast, rejected: 0, rejects: [], events: {}, sum: nothing });
    expect(screen.getByText("Nobody gains or loses anything.")).toBeTruthy();
    expect(screen.getByRole("button", { name: "Load it all the same" })).toBeTruthy();
  });

  it("says beforehand that a brake would hold it", () => {
    show({ ...forecast, warnings: ["85 of 262 people are missing from the file"] });
    expect(screen.getByText("85 of 262 people are missing from the file.")).toBeTruthy();
  });
});
