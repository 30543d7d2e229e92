import { keepPreviousData, useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { X } from "lucide-react";
import { useState } from "react";
import { Link, useNavigate, useSearchParams } from "react-router";
import { api, data, type Schemas } from "../api/client";
import { useSession } from "../api/session";
import { Badge } from "../parts/badge";
import { Button, ButtonLink } from "../parts/button";
import { Choice } from "../parts/choice";
import { Field } from "../parts/field";
import { count } from "../parts/moments";
import { PersonChoice } from "../parts/person-choice";
import { Empty, Fault, Waiting } from "../parts/states";
import { listAsks, useListedAsks } from "./use-list";
import { decidersOf, givesOf, lasted } from "./words";

type Offered = Schemas["Offered"];

/** What can be asked for, for oneself or for somebody else, found by what it is for. */
export function Catalogue() {
  const [query, setQuery] = useSearchParams();
  const { data: session } = useSession();
  const worker = query.get("for") ?? "";
  const text = query.get("text") ?? "";
  const like = query.get("like") ?? "";
  const set = (key: string, value: string) =>
    setQuery(
      (before) => {
        const after = new URLSearchParams(before);
        if (value) after.set(key, value);
        else after.delete(key);
        return after;
      },
      { replace: true },
    );
  const { data: colleagues } = useQuery({
    queryKey: ["colleagues"],
    staleTime: 300_000,
    queryFn: () => data(api.GET("/api/v1/offers/colleagues")),
  });
  const found = useQuery({
    queryKey: ["offers", worker, text, like],
    placeholderData: keepPreviousData,
    queryFn: () =>
      data(api.GET("/api/v1/offers", { params: { query: { worker, text, like: like || undefined } } })),
  });
  return (
    <>
      <div className="flex flex-wrap items-end gap-4">
        <Field
          label="What do you need?"
          placeholder="selling tickets, payroll, drawings …"
          value={text}
          onChange={(event) => set("text", event.target.value)}
          className="min-w-64 max-w-xl grow"
        />
        {colleagues && colleagues.length > 0 && (
          <Choice
            label="Like a colleague"
            all="Like nobody in particular"
            value={like}
            options={colleagues.map((each) => ({ value: each.worker, text: `Like ${each.name}` }))}
            onChange={(chosen) => set("like", chosen)}
          />
        )}
        <For worker={worker} own={session?.worker ?? ""} choose={(chosen) => set("for", chosen)} />
      </div>
      <Kept />
      {found.error && <Fault problem={found.error} />}
      {!found.data && !found.error && <Waiting what="what you can ask for" />}
      {found.data && <Offers offers={found.data} worker={worker} looked={text !== "" || like !== ""} />}
    </>
  );
}

/** What is on the list already, and sets that were kept for another time; nothing where there is neither. */
function Kept() {
  const asks = useListedAsks();
  const navigate = useNavigate();
  const queries = useQueryClient();
  const { data: sets } = useQuery({
    queryKey: ["saved-asks"],
    staleTime: 60_000,
    queryFn: () => data(api.GET("/api/v1/saved-asks", { params: { query: { limit: 50 } } })),
  });
  const drop = useMutation({
    mutationFn: (id: string) => data(api.DELETE("/api/v1/saved-asks/{id}", { params: { path: { id } } })),
    onSettled: () => queries.invalidateQueries({ queryKey: ["saved-asks"] }),
  });
  const kept = sets?.items ?? [];
  if (asks.length === 0 && kept.length === 0) return null;
  return (
    <div className="mt-3 flex flex-wrap items-center gap-x-6 gap-y-1 border-l-3 border-info pl-4">
      {asks.length > 0 && (
        <Link to="/requests/list">
          {count(asks.length, "thing is", "things are")} on your list: ask for them together
        </Link>
      )}
      {kept.map((set) => (
        <span key={set.id} className="flex items-center">
          <Button
            kind="quiet"
            onClick={() => {
              listAsks(set.lines.map((line) => ({ ...line, name: line.offer })));
              navigate("/requests/list");
            }}
          >
            {set.name}
          </Button>
          <button
            type="button"
            aria-label={`Drop ${set.name}`}
            className="rounded-sm p-1 text-muted hover:bg-muted-wash"
            onClick={() => drop.mutate(set.id)}
          >
            <X size={14} aria-hidden />
          </button>
        </span>
      ))}
    </div>
  );
}

function For({ worker, own, choose }: { worker: string; own: string; choose: (worker: string) => void }) {
  return (
    <Somebody
      worker={worker}
      nobody="for yourself"
      words={(who) => `for ${who}`}
      choose={(chosen) => choose(chosen === own ? "" : chosen)}
      label="For somebody else"
      back="For myself"
    />
  );
}

/** Somebody who is chosen, or nobody. */
function Somebody({
  worker,
  nobody,
  words,
  choose,
  label,
  back,
}: {
  worker: string;
  nobody: string;
  words: (who: string) => string;
  choose: (worker: string) => void;
  label: string;
  back: string;
}) {
  const [choosing, setChoosing] = useState(false);
  if (choosing) {
    return (
      <div className="min-w-64">
        <PersonChoice
          label={label}
          choose={(chosen) => {
            setChoosing(false);
            choose(chosen);
          }}
        />
      </div>
    );
  }
  return (
    <div className="flex items-center gap-3">
      <span className="text-muted">{worker ? words(worker) : nobody}</span>
      {worker ? (
        <Button onClick={() => choose("")}>{back}</Button>
      ) : (
        <Button onClick={() => setChoosing(true)}>{label}</Button>
      )}
    </div>
  );
}

function Offers({ offers, worker, looked }: { offers: Offered[]; worker: string; looked: boolean }) {
  if (offers.length === 0) {
    return (
      <div className="mt-4">
        <Empty title={looked ? "Nothing that you can ask for fits." : "There is nothing to ask for."}>
          {looked
            ? "Say it in other words, or fewer of them."
            : "What is offered to you would stand here; what comes with your work you have already."}
        </Empty>
      </div>
    );
  }
  return (
    <ul className="mt-4 border-t border-rule">
      {offers.map((offer) => (
        <li
          key={offer.key}
          className="grid gap-x-6 gap-y-2 border-b border-rule py-3 md:grid-cols-[1fr_18rem_8rem]"
        >
          <div>
            <p className="font-bold">{offer.name}</p>
            <p>{offer.purpose}</p>
            <p className="text-dense text-muted">{givesOf(offer.gives)}</p>
          </div>
          <div className="text-dense text-muted">
            <p>{offer.decides.map((stage) => decidersOf(stage)).join(", then ")}</p>
            <p>
              {offer.term === "open" ? "open-ended" : offer.term}
              {offer.usualSeconds != null &&
                ` · half of those who asked had it within ${lasted(Number(offer.usualSeconds))}`}
            </p>
          </div>
          <div className="md:text-right">
            {offer.held ? (
              <Badge state="approved">had already</Badge>
            ) : offer.waits ? (
              <Link to="/requests?tab=mine">asked for</Link>
            ) : (
              <ButtonLink to={`/requests/ask/${offer.key}${worker ? `?for=${worker}` : ""}`}>
                Ask for it
              </ButtonLink>
            )}
          </div>
        </li>
      ))}
    </ul>
  );
}
