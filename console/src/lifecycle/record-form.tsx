import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useForm } from "react-hook-form";
import { Link } from "react-router";
import { api, data, type Schemas } from "../api/client";
import { Button } from "../parts/button";
import { Field } from "../parts/field";
import { Fault } from "../parts/states";
import { Heading } from "../parts/title";

type FormField = Schemas["FormField"];

const kinds: Record<string, string> = { date: "date", number: "number" };
const help: Record<string, string> = {
  person: "a worker number",
  "yes-no": "yes or no",
  date: "",
  number: "a whole number",
};

const neededFirst = (fields: FormField[]) =>
  fields.toSorted((a, b) => Number(b.required) - Number(a.required));

/** One record: a field a fact, checked by the service as a row of a file is. */
export function RecordForm({
  form,
  record,
}: {
  form: Schemas["RecordForm"];
  record: Schemas["RecordShown"];
}) {
  const queries = useQueryClient();
  const fields = useForm<Record<string, string>>({ defaultValues: record.facts });
  const write = useMutation({
    mutationFn: (facts: Record<string, string>) =>
      data(
        api.PUT("/api/v1/records/{key}", {
          params: { path: { key: form.source } },
          body: { worker: record.worker, facts },
        }),
      ),
    onSettled: () => queries.invalidateQueries({ queryKey: ["record"] }),
  });
  return (
    <form className="max-w-4xl" onSubmit={fields.handleSubmit((facts) => write.mutate(facts))}>
      <Heading aside={record.known ? "what is changed is an event" : "nobody has this number yet"}>
        {record.known ? `The record of ${record.worker}` : `A new person, ${record.worker}`}
      </Heading>
      {write.error && (
        <div className="mb-3">
          <Fault problem={write.error} />
        </div>
      )}
      <div className="grid gap-x-8 gap-y-3 md:grid-cols-2">
        {neededFirst(form.fields).map((field) => (
          <Field
            key={field.fact}
            label={field.required ? `${field.name} (needed)` : field.name}
            type={kinds[field.type] ?? "text"}
            maxLength={field.type === "text" && field.longest > 0 ? field.longest : undefined}
            help={help[field.type]}
            {...fields.register(field.fact)}
          />
        ))}
      </div>
      <div className="mt-5 flex flex-wrap items-center gap-4">
        <Button kind="primary" type="submit" disabled={write.isPending}>
          {write.isPending ? "Writing" : record.known ? "Write what is changed" : "Write the record"}
        </Button>
        {write.data && (
          <p role="status">
            {Object.keys(write.data.events).length === 0
              ? "Nothing was changed."
              : `Written: ${Object.keys(write.data.events).join(", ").replaceAll("-", " ")}.`}{" "}
            <Link to={`/people/${record.worker}`}>Look at the person</Link>
          </p>
        )}
      </div>
    </form>
  );
}
