import { expect, it } from "vitest";
import { alike } from "./alike";

const fault = (id: number, application: string, reason: string) =>
  ({ id: String(id), application, reason, kind: "create", account: `a${id}` }) as Parameters<
    typeof alike
  >[0][number];

it("puts faults of one application with one reason together, in the order they came", () => {
  const groups = alike([
    fault(1, "quaybook", "no seat"),
    fault(2, "chartshare", "no seat"),
    fault(3, "quaybook", "no seat"),
  ]);
  expect(groups.map((group) => [group.application, group.faults.map((each) => each.id)])).toEqual([
    ["quaybook", ["1", "3"]],
    ["chartshare", ["2"]],
  ]);
});
