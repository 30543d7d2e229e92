/** What a new campaign may begin as; each is a whole definition that loads as it stands. */
export const templates: { key: string; name: string; text: string }[] = [
  {
    key: "privileged",
    name: "Privileged access, by application owners, every quarter",
    text: `campaign: a-new-campaign
name: Privileged access
holdings: holding.privileged
reviewers: application-owners
rhythm: quarterly
days: 14 days
nudge: [5 days, 10 days]
escalate: 12 days
`,
  },
  {
    key: "everything",
    name: "All access, by line managers, once a year",
    text: `campaign: a-new-campaign
name: All access
reviewers: line-managers
rhythm: yearly
days: 30 days
nudge: [10 days, 20 days]
escalate: 25 days
closing: owner
`,
  },
  {
    key: "packages",
    name: "What was asked for, by stewards, twice a year",
    text: `campaign: a-new-campaign
name: What was asked for
judge: packages
holdings: '"request" in holding.basis'
reviewers: stewards
rhythm: half-yearly
days: 21 days
`,
  },
  {
    key: "partners",
    name: "Partners say themselves what they still need",
    text: `campaign: a-new-campaign
name: What partners still need
people: person.kind == "partner"
reviewers: holders
rhythm: quarterly
days: 14 days
nudge: 7 days
`,
  },
  {
    key: "movers",
    name: "What movers had before, within two weeks of the move",
    text: `campaign: a-new-campaign
name: Movers' old access
reviewers: line-managers
on-move: yes
days: 14 days
`,
  },
  {
    key: "idle",
    name: "What nobody uses, by line managers, every month",
    text: `campaign: a-new-campaign
name: Idle access
holdings: holding.idle
reviewers: line-managers
rhythm: monthly
days: 10 days
`,
  },
  {
    key: "accounts",
    name: "Accounts that are nobody's, by application owners, every quarter",
    text: `campaign: a-new-campaign
name: Accounts that are nobody's
judge: [stray-accounts, service-accounts]
reviewers: application-owners
rhythm: quarterly
days: 14 days
`,
  },
];
