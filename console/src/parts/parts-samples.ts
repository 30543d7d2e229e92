import type { Schemas } from "../api/client";

/** Invented contents for the page of parts: nobody here is asked for from the service. */
export const now = new Date("2027-03-16T06:00:00Z");

export const people = [
  { name: "Una Kerrow", job: "second mate", standing: "active" },
  { name: "Ingrid Sæther", job: "deckhand", standing: "expected" },
  { name: "Léa Nkemelu", job: "ticket clerk", standing: "on-leave" },
];

export const standings: Schemas["StandingSpan"][] = [
  { standing: "expected", from: "2026-10-10", until: "2026-11-01" },
  { standing: "active", from: "2026-11-01", until: "2027-01-11" },
  { standing: "on-leave", from: "2027-01-11", until: "2027-02-08" },
  { standing: "active", from: "2027-02-08" },
];

const bar = (
  grant: string,
  name: string,
  from: string,
  until: string | undefined,
  basis: string,
  basisKey: string,
  endReason = "",
): Schemas["Bar"] => ({
  grant,
  target: name,
  name,
  basis,
  basisKey,
  from: `${from}T00:00:00Z`,
  until: until && `${until}T00:00:00Z`,
  endReason,
  entitlements: [],
});

export const lanes: Schemas["Lane"][] = [
  {
    application: "directory",
    name: "Harbour Directory",
    bars: [
      bar("1", "Start kit", "2026-10-25", undefined, "birthright", "everyone"),
      bar(
        "2",
        "Deck & Navigation",
        "2026-11-01",
        "2026-12-20",
        "birthright",
        "deck",
        "facts no longer meet the birthright",
      ),
      bar("3", "Engine Room", "2026-12-20", undefined, "birthright", "engine-room"),
    ],
  },
  {
    application: "quaybook",
    name: "Quaybook",
    bars: [
      bar("4", "Ticket desk", "2027-02-10", "2027-05-13", "request", "two approved"),
      bar("5", "Freight desk", "2027-04-01", undefined, "request", ""),
    ],
  },
];

export const path: Schemas["Path"] = {
  grant: "3",
  inForce: true,
  sentence: "in force",
  links: [
    { kind: "fact", text: "Department: Engine Room", detail: "person.department" },
    { kind: "birthright", text: "engine-room", detail: 'person.department == "Engine Room"' },
    { kind: "package", text: "Engine Room", detail: "engine-room" },
    { kind: "entitlement", text: "Slip drawings", detail: "Slip drawings" },
    { kind: "account", text: "kerrowu in Chartshare", detail: "enabled" },
  ],
};

const event = (
  id: number,
  name: string,
  subtitle: string,
  kind: string,
  effectiveOn: string,
  operations: number,
  confirmed: number,
  more: Partial<Schemas["Event"]> = {},
): Schemas["Event"] => ({
  id: String(id),
  worker: `W-0${1000 + id}`,
  name,
  subtitle,
  kind,
  effectiveOn,
  changes: [],
  detectedAt: "2027-03-16T05:58:00Z",
  plannedAt: "2027-03-16T05:58:01Z",
  operations,
  sent: confirmed,
  confirmed,
  faults: 0,
  confirmedAt: "2027-03-16T05:58:04.200Z",
  ...more,
});

export const flow: Schemas["Event"][] = [
  event(1, "Ingrid Sæther", "deckhand", "joiner", "2027-03-16", 7, 7),
  event(2, "Una Kerrow", "second engineer", "mover", "2027-03-16", 9, 6, {
    faults: 1,
    waitingFor: "chartshare: seat limit reached",
  }),
  event(3, "Bo Strand", "galley hand", "joiner", "2027-03-22", 2, 2),
  event(4, "Tam Ó Briain", "deckhand", "correction", "2027-03-16", 0, 0),
];
