import { useState } from "react";
import { FlowLine } from "../lifecycle/flow-line";
import { Badge } from "./badge";
import { Button } from "./button";
import { Choice } from "./choice";
import { Field } from "./field";
import { MirroredBars } from "./mirroredbars";
import { flow, lanes, now, path, people, standings } from "./parts-samples";
import { Pairs, Sheet } from "./sheet";
import { Empty, Fault, ProgressLine, Waiting } from "./states";
import { Table, type Column } from "./table";
import { Tabs } from "./tabs";
import { Timeline } from "./timeline";
import { Heading, Title } from "./title";
import { WhyPath } from "./whypath";

const columns: Column<(typeof people)[number]>[] = [
  { id: "name", header: "Name", accessorKey: "name" },
  { id: "job", header: "Job title", accessorKey: "job" },
  {
    id: "standing",
    header: "Standing",
    accessorKey: "standing",
    cell: ({ row }) => <Badge state={row.original.standing} />,
  },
];

const shownStates = [
  "active",
  "expected",
  "on-leave",
  "left",
  "waiting",
  "confirmed",
  "fault",
  "well",
  "unwell",
  "joiner",
  "mover",
  "leaver",
  "correction",
];

/** Every part the console is built from, once. */
export function PartsPage() {
  const [tab, setTab] = useState("first");
  const [choice, setChoice] = useState("Freight");
  const [sheet, setSheet] = useState(false);
  return (
    <>
      <Title strong="Parts" actions={<Button onClick={() => setSheet(true)}>Open a sheet</Button>}>
        everything the console is built from, each once
      </Title>
      <div className="grid gap-x-10 lg:grid-cols-2">
        <section>
          <Heading>Buttons</Heading>
          <div className="flex flex-wrap gap-2">
            <Button kind="primary" letter="a">
              Approve
            </Button>
            <Button>Pass on</Button>
            <Button kind="danger">Revoke 3</Button>
            <Button kind="quiet">Clear</Button>
            <Button kind="primary" disabled>
              Loading
            </Button>
          </div>
          <Heading>Fields and choices</Heading>
          <div className="grid grid-cols-2 gap-3">
            <Field label="Reason" placeholder="Covering a leave" help="Kept with the decision" />
            <Field label="Last day" defaultValue="2027-13-05" wrong="Say a date, such as 2027-03-14" />
          </div>
          <div className="mt-3">
            <Choice
              label="Department"
              all="All departments"
              value={choice}
              onChange={setChoice}
              options={[
                { value: "Freight", text: "Freight", count: 22 },
                { value: "Terminals", text: "Terminals", count: 34 },
              ]}
            />
          </div>
          <Heading>States</Heading>
          <div className="flex flex-wrap gap-2">
            {shownStates.map((state) => (
              <Badge key={state} state={state} />
            ))}
          </div>
        </section>
        <section>
          <Heading>Gains and losses</Heading>
          <MirroredBars
            title="By department"
            rows={[
              { name: "Deck & Navigation", losses: 31, gains: 4 },
              { name: "Engine Room", losses: 7, gains: 26 },
              { name: "Freight", losses: 9, gains: 0 },
            ]}
          />
          <Heading>Progress, empty, error</Heading>
          <ProgressLine sentence="180 of 262 rows compared" done={180} total={262} />
          <Empty title="No feed was loaded yet.">A feed is a file from HR with everyone in it.</Empty>
          <div className="mt-3">
            <Fault
              problem={new Error("Chartshare does not answer. Operations wait, and go on when it does.")}
              retry={() => setSheet(true)}
            />
          </div>
          <Waiting what="people" />
        </section>
      </div>
      <Heading>Access through time</Heading>
      <Timeline now={now} standings={standings} lanes={lanes} />
      <Heading>Why</Heading>
      <WhyPath path={path} />
      <Heading>Flow</Heading>
      <ol>
        {flow.map((event) => (
          <FlowLine key={event.id} event={event} now={now} zone="UTC" />
        ))}
      </ol>
      <Heading>Tabs and a table</Heading>
      <Tabs
        value={tab}
        onChange={setTab}
        tabs={[
          {
            key: "first",
            name: "People",
            count: people.length,
            content: (
              <div className="pt-8">
                <Table name="Sample people" rows={people} columns={columns} />
              </div>
            ),
          },
          {
            key: "second",
            name: "Facts",
            content: (
              <Pairs
                pairs={[
                  ["Department", "Freight"],
                  ["Location", "Tarn Point"],
                ]}
              />
            ),
          },
        ]}
      />
      {sheet && (
        <Sheet title="A sheet" close={() => setSheet(false)}>
          <p>Detail that slides in from the right; the list stays where it was.</p>
        </Sheet>
      )}
    </>
  );
}
