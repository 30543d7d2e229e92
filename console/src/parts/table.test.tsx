// @vitest-environment jsdom
import { cleanup, render, screen, within } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { useState } from "react";
import { afterEach, beforeEach, expect, it, vi } from "vitest";
import { RowLink, Table, type Column } from "./table";

type Berth = { name: string; length: number };

const berths: Berth[] = [
  { name: "Westholm", length: 40 },
  { name: "Hallow Quay", length: 120 },
  { name: "Tarn Point", length: 15 },
];

const columns: Column<Berth>[] = [
  {
    id: "name",
    header: "Name",
    accessorKey: "name",
    cell: ({ row }) => <RowLink to={`#/berths/${row.original.name}`}>{row.original.name}</RowLink>,
  },
  { id: "length", header: "Length", accessorKey: "length" },
];

let saved: Blob[] = [];

beforeEach(() => {
  saved = [];
  URL.createObjectURL = (blob) => `blob:${saved.push(blob as Blob)}`;
  URL.revokeObjectURL = () => {};
  // jsdom goes nowhere.
  HTMLAnchorElement.prototype.click = () => {};
});
afterEach(cleanup);

const names = () =>
  screen
    .getAllByRole("row")
    .slice(1)
    .map((row) => within(row).getAllByRole("cell")[0]!.textContent);

const text = (blob: Blob) =>
  new Promise<string>((done) => {
    const reader = new FileReader();
    reader.onload = () => done(String(reader.result));
    reader.readAsText(blob);
  });

it("sorts by a column, up and down, and says so", async () => {
  render(<Table name="Berths" rows={berths} columns={columns} />);
  await userEvent.click(screen.getByRole("button", { name: "Name" }));
  expect(names()).toEqual(["Hallow Quay", "Tarn Point", "Westholm"]);
  expect(screen.getByRole("columnheader", { name: "Name" }).getAttribute("aria-sort")).toBe("ascending");
  await userEvent.click(screen.getByRole("button", { name: "Name" }));
  expect(names()).toEqual(["Westholm", "Tarn Point", "Hallow Quay"]);
});

it("comes to rest where there is more than it was given", async () => {
  let drawn = 0;
  const counted: Column<Berth>[] = [
    { id: "length", header: "Length", accessorKey: "length", cell: () => String(++drawn) },
  ];
  const table = (rows: Berth[]) => (
    <Table name="Berths" rows={rows} columns={counted} complete={async () => berths} />
  );
  const aMoment = () => new Promise((done) => setTimeout(done, 50));
  const { rerender } = render(table(berths.slice(0, 1)));
  for (const rows of [berths.slice(1, 2), berths.slice(2)]) {
    await aMoment();
    rerender(table(rows));
  }
  await aMoment();
  expect(drawn).toBeLessThan(10);
});

it("lets the service sort where there is more than it was given", async () => {
  const change = vi.fn();
  const show = (value: string) => (
    <Table
      name="Berths"
      rows={berths}
      columns={columns}
      complete={async () => berths}
      order={{ columns: { length: "metres" }, value, change }}
    />
  );
  const { rerender } = render(show("metres"));
  expect(names()).toEqual(["Westholm", "Hallow Quay", "Tarn Point"]);
  expect(screen.getByRole("columnheader", { name: "Length" }).getAttribute("aria-sort")).toBe("ascending");
  expect(screen.queryByRole("button", { name: "Name" })).toBeNull();
  await userEvent.click(screen.getByRole("button", { name: "Length" }));
  expect(change).toHaveBeenLastCalledWith("-metres");
  rerender(show("-metres"));
  await userEvent.click(screen.getByRole("button", { name: "Length" }));
  expect(change).toHaveBeenLastCalledWith("");
});

it("sorts nothing of a list of which it has a part only", () => {
  const { rerender } = render(
    <Table name="Berths" rows={berths} columns={columns} complete={async () => berths} />,
  );
  expect(screen.queryByRole("button", { name: "Name" })).toBeNull();
  rerender(<Table name="Berths" rows={berths} columns={columns} complete={async () => berths} whole />);
  expect(screen.getByRole("button", { name: "Name" })).toBeTruthy();
});

it("opens a row by a click on it or by its link, but leaves new tabs to the browser", async () => {
  const open = vi.fn();
  render(<Table name="Berths" rows={berths} columns={columns} open={open} />);
  await userEvent.click(screen.getByText("120"));
  expect(open).toHaveBeenLastCalledWith(berths[1]);
  screen.getByRole("link", { name: "Westholm" }).focus();
  await userEvent.keyboard("{Enter}");
  expect(open).toHaveBeenLastCalledWith(berths[0]);
  const user = userEvent.setup();
  await user.keyboard("{Control>}");
  await user.click(screen.getByRole("link", { name: "Tarn Point" }));
  expect(open).toHaveBeenCalledTimes(2);
});

it("is walked with arrows, Home and End", async () => {
  render(<Table name="Berths" rows={berths} columns={columns} />);
  screen.getByRole("region", { name: "Berths" }).focus();
  for (const [key, name] of [
    ["{ArrowDown}", "Westholm"],
    ["{ArrowDown}", "Hallow Quay"],
    ["{ArrowUp}", "Westholm"],
    ["{End}", "Tarn Point"],
    ["{ArrowDown}", "Tarn Point"],
    ["{Home}", "Westholm"],
  ] as const) {
    await userEvent.keyboard(key);
    expect(document.activeElement?.textContent).toBe(name);
  }
});

it("hides columns, and exports only what is seen, in the order that is seen", async () => {
  render(<Table name="Berths of ours" rows={berths} columns={columns} />);
  await userEvent.click(screen.getByRole("button", { name: "Name" }));
  await userEvent.click(screen.getByRole("button", { name: "Choose columns" }));
  await userEvent.click(screen.getByRole("menuitemcheckbox", { name: /Length/ }));
  await userEvent.keyboard("{Escape}");
  await userEvent.click(screen.getByRole("button", { name: "Export what is shown" }));
  await userEvent.click(screen.getByRole("menuitem", { name: "as CSV" }));
  expect(await text(saved[0]!)).toBe("Name\r\nHallow Quay\r\nTarn Point\r\nWestholm\r\n");
});

it("fetches what is left before it exports", async () => {
  function Growing() {
    const [rows, setRows] = useState(berths.slice(0, 1));
    const complete = async () => {
      setTimeout(() => setRows(berths), 30);
      return berths;
    };
    return <Table name="Berths" rows={rows} columns={columns} complete={complete} />;
  }
  render(<Growing />);
  await userEvent.click(screen.getByRole("button", { name: "Export what is shown" }));
  await userEvent.click(screen.getByRole("menuitem", { name: "as CSV" }));
  await vi.waitFor(() => expect(saved).toHaveLength(1));
  expect((await text(saved[0]!)).split("\r\n")).toHaveLength(5);
});

it("keeps a column aside until it is chosen", async () => {
  const aside = columns.map((column) => (column.id === "length" ? { ...column, aside: true } : column));
  render(<Table name="Berths" rows={berths} columns={aside} />);
  expect(screen.queryByRole("columnheader", { name: "Length" })).toBeNull();
  await userEvent.click(screen.getByRole("button", { name: "Choose columns" }));
  await userEvent.click(screen.getByRole("menuitemcheckbox", { name: /Length/ }));
  await userEvent.keyboard("{Escape}");
  expect(screen.getByRole("columnheader", { name: "Length" })).toBeTruthy();
});
