// @vitest-environment jsdom
import { cleanup, render, screen, within } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { afterEach, describe, expect, it, vi } from "vitest";
import { Problem } from "../api/client";
import { Badge } from "./badge";
import { Button } from "./button";
import { Field } from "./field";
import { useKeys } from "./keys";
import { MirroredBars } from "./mirroredbars";
import { lanes, now, path, standings } from "./parts-samples";
import { Sheet } from "./sheet";
import { Fault, ProgressLine } from "./states";
import { Tabs } from "./tabs";
import { Timeline } from "./timeline";
import { WhyPath } from "./whypath";

afterEach(cleanup);

describe("a field", () => {
  it("has its label, and reads out what is wrong with it", () => {
    render(<Field label="Worker number" wrong="Nobody has this number." />);
    const input = screen.getByLabelText("Worker number");
    expect(input.getAttribute("aria-invalid")).toBe("true");
    expect(document.getElementById(input.getAttribute("aria-describedby")!)?.textContent).toBe(
      "Nobody has this number.",
    );
  });
});

describe("a fault", () => {
  it("says the sentence, each place, and offers a way on", async () => {
    const retry = vi.fn();
    const problem = new Problem(422, "Two things are wrong.", [
      { pointer: "x.yaml line 3", detail: "There is no package “attic”." },
    ]);
    render(<Fault problem={problem} retry={retry} />);
    expect(screen.getByRole("alert").textContent).toContain("Two things are wrong.");
    expect(screen.getByText("x.yaml line 3")).toBeTruthy();
    await userEvent.click(screen.getByRole("button", { name: "Try again" }));
    expect(retry).toHaveBeenCalledOnce();
  });
});

describe("progress", () => {
  it("tells its share to those who cannot see the bar", () => {
    render(<ProgressLine sentence="5,000 rows read" done={5_000} total={20_000} />);
    expect(screen.getByRole("progressbar", { name: "5,000 rows read" }).getAttribute("aria-valuenow")).toBe(
      "25",
    );
  });

  it("claims no share while the total is not known", () => {
    render(<ProgressLine sentence="reading" done={0} total={0} />);
    expect(screen.getByRole("progressbar").hasAttribute("aria-valuenow")).toBe(false);
    expect(screen.queryByText(/%/)).toBeNull();
  });
});

describe("a state", () => {
  it("has a word and a glyph, whatever its colour", () => {
    for (const state of ["on-leave", "given-up", "never-heard-of"]) {
      const { container } = render(<Badge state={state} />);
      expect(container.textContent).toBe(state.replace("-", " "));
      expect(container.querySelector("svg")).toBeTruthy();
      cleanup();
    }
  });
});

describe("why", () => {
  it("reads from the fact to the account", () => {
    render(<WhyPath path={path} />);
    const texts = screen.getAllByRole("listitem").map((each) => each.textContent);
    expect(texts[0]).toContain("Department: Engine Room");
    expect(texts.at(-1)).toContain("kerrowu in Chartshare");
    expect(screen.getAllByLabelText("leads to")).toHaveLength(path.links.length - 1);
  });
});

describe("mirrored bars", () => {
  it("say their numbers without being seen", () => {
    render(<MirroredBars title="By department" rows={[{ name: "Deck", losses: 2, gains: 30 }]} />);
    expect(screen.getByRole("img").getAttribute("aria-label")).toBe("By department: Deck loses 2, gains 30");
  });
});

describe("the access timeline", () => {
  // jsdom measures nothing, so nothing changes its size.
  vi.stubGlobal(
    "ResizeObserver",
    class {
      observe() {}
      disconnect() {}
    },
  );

  it("has a line for each grant, in its application, and today on it", () => {
    const pick = vi.fn();
    render(<Timeline now={now} standings={standings} lanes={lanes} pick={pick} />);
    for (const lane of lanes) {
      expect(screen.getByRole("heading", { name: lane.name })).toBeTruthy();
      for (const bar of lane.bars) expect(screen.getAllByText(bar.name).length).toBeGreaterThan(0);
    }
    expect(screen.getAllByText("16 Mar 2027").length).toBeGreaterThan(0);
    expect(screen.getByText(/ends 13 May 2027/)).toBeTruthy();
    expect(screen.getByText(/starts 1 Apr 2027/)).toBeTruthy();
  });

  it("stands there as a table too, with every grant and standing in words", () => {
    render(<Timeline now={now} standings={standings} lanes={lanes} />);
    const rows = lanes.flatMap((lane) => lane.bars).length + standings.length;
    const table = screen.getByRole("region", { name: "Access through time, as a table" });
    expect(within(table).getAllByRole("row", { hidden: true })).toHaveLength(rows + 1);
    expect(within(table).getAllByText("Standing")).toHaveLength(standings.length);
    expect(within(table).getAllByText("13 May 2027").length).toBeGreaterThan(0);
  });
});

describe("tabs", () => {
  it("are gone through with the arrows", async () => {
    const change = vi.fn();
    const tabs = ["access", "history"].map((key) => ({ key, name: key, content: <p>{key} here</p> }));
    render(<Tabs value="a tab of another page" onChange={change} tabs={tabs} />);
    expect(screen.getByRole("tab", { name: "access" }).getAttribute("aria-selected")).toBe("true");
    screen.getByRole("tab", { name: "access" }).focus();
    await userEvent.keyboard("{ArrowRight}");
    expect(change).toHaveBeenCalledWith("history");
    expect(screen.queryByText("history here")).toBeNull();
  });
});

describe("a sheet", () => {
  it("is left with Escape or its cross", async () => {
    const close = vi.fn();
    render(
      <Sheet title="Operation 84" close={close}>
        detail
      </Sheet>,
    );
    expect(screen.getByRole("dialog", { name: "Operation 84" })).toBeTruthy();
    await userEvent.keyboard("{Escape}");
    await userEvent.click(screen.getByRole("button", { name: "Close" }));
    expect(close).toHaveBeenCalledTimes(2);
  });
});

describe("letters", () => {
  function Page({ act }: { act: () => void }) {
    useKeys({ t: act });
    return (
      <>
        <Field label="Name" />
        <Button letter="t">Try again</Button>
      </>
    );
  }

  it("do something, but not while somebody types or holds Control", async () => {
    const act = vi.fn();
    render(<Page act={act} />);
    await userEvent.keyboard("t");
    expect(act).toHaveBeenCalledOnce();
    await userEvent.type(screen.getByLabelText("Name"), "tt");
    await userEvent.keyboard("{Control>}t{/Control}");
    expect(act).toHaveBeenCalledOnce();
  });
});
