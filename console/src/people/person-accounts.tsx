import { useMutation, useQuery } from "@tanstack/react-query";
import { api, data, type Schemas } from "../api/client";
import { may, useSession, useZone } from "../api/session";
import { Badge } from "../parts/badge";
import { Button } from "../parts/button";
import { day } from "../parts/moments";
import { Pairs } from "../parts/sheet";
import { Empty, Fault } from "../parts/states";

/** The accounts of a person: as desired, as observed, and what each holds. */
export function PersonAccounts({
  accounts,
  worker,
}: {
  accounts: Schemas["AccountShown"][];
  worker: string;
}) {
  const { data: uses } = useQuery({
    queryKey: ["uses", worker],
    queryFn: () => data(api.GET("/api/v1/people/{worker}/uses", { params: { path: { worker } } })),
  });
  if (accounts.length === 0) {
    return (
      <Empty title="No account.">
        An account is made when a grant needs one, some days before the first day.
      </Empty>
    );
  }
  return (
    <div className="grid gap-8">
      {accounts.map((account) => (
        <Account
          key={account.application}
          account={account}
          worker={worker}
          uses={(uses ?? []).filter((each) => each.application === account.application)}
        />
      ))}
    </div>
  );
}

function Account({
  account,
  worker,
  uses,
}: {
  account: Schemas["AccountShown"];
  worker: string;
  uses: Schemas["Use"][];
}) {
  const used = (entitlement: string) => uses.find((each) => each.entitlement === entitlement)?.lastUsed;
  const whole = used("");
  const zone = useZone();
  const { data: session } = useSession();
  const passcode = useMutation({
    mutationFn: () =>
      data(
        api.POST("/api/v1/people/{worker}/passcode", {
          params: { path: { worker }, query: { application: account.application } },
        }),
      ),
  });
  const changing = account.state !== account.seenState;
  return (
    <section aria-label={account.applicationName}>
      <div className="flex flex-wrap items-center gap-3 border-b border-rule pb-2">
        <h2 className="font-bold">{account.applicationName}</h2>
        <span className="font-mono text-dense">{account.name}</span>
        <Badge state={account.seenState}>
          {account.seenState === "none" ? "not there" : account.seenState}
        </Badge>
        {changing && (
          <span className="text-dense text-warning">
            to be {account.state === "none" ? "deleted" : account.state}
          </span>
        )}
        {whole && <span className="text-dense text-muted">last used {day(whole, zone)}</span>}
        {account.unneededSince && (
          <span className="text-dense text-muted">
            nobody needs it since {day(account.unneededSince, zone)}
          </span>
        )}
        {may(session, "issue-passcodes") &&
          account.application === "directory" &&
          account.seenState !== "none" && (
            <Button className="ml-auto" disabled={passcode.isPending} onClick={() => passcode.mutate()}>
              Issue a passcode
            </Button>
          )}
      </div>
      {passcode.error && <Fault problem={passcode.error} />}
      {passcode.data && (
        <p role="status" className="my-3 border-l-3 border-success bg-success-wash px-4 py-2">
          <span className="font-mono">{passcode.data.passcode}</span> opens {passcode.data.account} in a
          moment. It is shown this once.
        </p>
      )}
      <div className="mt-3 grid gap-6 md:grid-cols-2">
        <ul>
          {account.holdings.length === 0 && <li className="text-muted">Holds nothing.</li>}
          {account.holdings.map((holding) => (
            <li key={holding.entitlement} className="flex items-center gap-3 border-b border-rule py-1.5">
              <span className="min-w-0 grow">
                {holding.name}{" "}
                <span className="font-mono text-dense text-muted">{holding.technicalName}</span>
                {used(holding.entitlement) && (
                  <span className="ml-2 text-dense text-muted">
                    last used {day(used(holding.entitlement) ?? "", zone)}
                  </span>
                )}
              </span>
              <Badge
                state={
                  holding.observed === holding.desired
                    ? "confirmed"
                    : holding.desired
                      ? "being added"
                      : "being removed"
                }
              />
            </li>
          ))}
          {account.deviations.map((deviation) => (
            <li key={deviation.aspect} className="border-b border-rule py-1.5 text-dense">
              <Badge state="given-up">differs</Badge>{" "}
              <span className="font-mono">{deviation.aspect.replace("entitlement:", "")}</span>, accepted by{" "}
              {deviation.acceptedBy} until {day(deviation.until, zone)}: {deviation.reason}
            </li>
          ))}
        </ul>
        <Pairs
          pairs={[
            ...(account.container ? ([["container", account.container]] as [string, string][]) : []),
            ...Object.entries(account.attributes).sort(([a], [b]) => a.localeCompare(b)),
          ]}
        />
      </div>
    </section>
  );
}
