import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { useSearchParams } from "react-router";
import { api, data } from "../api/client";
import { may, useSession } from "../api/session";
import { GroupPages } from "../frame/group-pages";
import { Button } from "../parts/button";
import { Choice } from "../parts/choice";
import { Field } from "../parts/field";
import { Empty, Fault, Waiting } from "../parts/states";
import { Title } from "../parts/title";
import { RecordForm } from "./record-form";

/** The people desk's own form: somebody's record, written by hand. */
export function RecordsPage() {
  const [query, setQuery] = useSearchParams();
  const worker = query.get("worker") ?? "";
  const [typed, setTyped] = useState(worker);
  const { data: session } = useSession();
  const forms = useQuery({ queryKey: ["records"], queryFn: () => data(api.GET("/api/v1/records")) });
  if (forms.error) return <Fault problem={forms.error} retry={() => void forms.refetch()} />;
  if (!forms.data) return <Waiting what="the forms" />;
  const all = forms.data.items;
  const form = all.find((each) => each.source === query.get("source")) ?? all[0];
  return (
    <>
      <GroupPages group="flow" name="Around the flow" />
      <Title strong="Records">people whom no file names, written by hand</Title>
      {!form ? (
        <Empty title="There is no form.">
          A source with form: yes in its definition has one: the people desk writes its records itself.
        </Empty>
      ) : (
        <>
          <form
            className="mt-4 flex flex-wrap items-end gap-3"
            onSubmit={(event) => {
              event.preventDefault();
              setQuery({ source: form.source, worker: typed.trim() });
            }}
          >
            {all.length > 1 && (
              <Choice
                label="Which source"
                all={form.name}
                value={query.get("source") ?? ""}
                options={all.map((each) => ({ value: each.source, text: each.name }))}
                onChange={(source) => setQuery({ source })}
              />
            )}
            <Field
              label="Worker number"
              value={typed}
              onChange={(event) => setTyped(event.target.value)}
              help="a new number is a new person"
              className="w-80"
            />
            <Button type="submit" disabled={!typed.trim()} className="mb-6">
              Open the record
            </Button>
            {form.numbers && (
              <Button className="mb-6" onClick={() => setQuery({ source: form.source, new: "yes" })}>
                Somebody new
              </Button>
            )}
          </form>
          {worker && <Opened form={form} worker={worker} />}
          {!worker && form.numbers && query.get("new") && (
            <RecordForm
              key={form.source}
              form={form}
              record={{
                worker: "",
                known: false,
                facts: !may(session, "load-feeds") && session?.worker ? { manager: session.worker } : {},
              }}
            />
          )}
        </>
      )}
    </>
  );
}

function Opened({ form, worker }: { form: Parameters<typeof RecordForm>[0]["form"]; worker: string }) {
  const record = useQuery({
    queryKey: ["record", form.source, worker],
    queryFn: () =>
      data(api.GET("/api/v1/records/{key}", { params: { path: { key: form.source }, query: { worker } } })),
  });
  if (record.error) return <Fault problem={record.error} />;
  if (!record.data) return <Waiting what="the record" />;
  return <RecordForm key={worker} form={form} record={record.data} />;
}
