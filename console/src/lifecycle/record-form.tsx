import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
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

const NAMES = ["given", "family"];

/** The name, then what is needed, then the rest in the order of the form. */
const inOrder = (fields: FormField[]) => {
  const rank = ({ fact, required }: FormField) =>
    NAMES.includes(fact) ? NAMES.indexOf(fact) : NAMES.length + Number(!required);
  return fields.toSorted((a, b) => rank(a) - rank(b));
};

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
  const [reason, setReason] = useState("");
  const asks = form.agreed && !record.known;
  const write = useMutation({
    mutationFn: (facts: Record<string, string>) =>
      data(
        api.PUT("/api/v1/records/{key}", {
          params: { path: { key: form.source } },
          body: { worker: record.worker, facts, reason },
        }),
      ),
    onSettled: () =>
      Promise.all([
        queries.invalidateQueries({ queryKey: ["record"] }),
        queries.invalidateQueries({ queryKey: ["people"] }),
      ]),
  });
  // A number was made up for them: written once more, they would be somebody else.
  const made = !record.worker && write.isSuccess;
  return (
    <form className="max-w-4xl" onSubmit={fields.handleSubmit((facts) => write.mutate(facts))}>
      <Heading
        aside={
          record.known
            ? `${record.worker}; what is changed is an event`
            : record.worker
              ? "nobody has this number yet"
              : "a worker number is made up"
        }
      >
        {record.known
          ? `The record of ${NAMES.map((fact) => record.facts[fact] ?? "")
              .join(" ")
              .trim()}`
          : record.worker
            ? `A new person, ${record.worker}`
            : "A new person"}
      </Heading>
      {write.error && (
        <div className="mb-3">
          <Fault problem={write.error} />
        </div>
      )}
      <div className="grid gap-x-8 gap-y-3 md:grid-cols-2">
        {inOrder(form.fields).map((field) => (
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
      {asks && (
        <Field
          label="What are they needed for? Somebody has to agree before they count (needed)"
          value={reason}
          maxLength={1000}
          onChange={(event) => setReason(event.target.value)}
          className="mt-4"
        />
      )}
      <div className="mt-5 flex flex-wrap items-center gap-4">
        <Button kind="primary" type="submit" disabled={write.isPending || made || (asks && !reason.trim())}>
          {write.isPending ? "Writing" : record.known ? "Write what is changed" : "Write the record"}
        </Button>
        {write.data && (
          <p role="status">
            {Object.keys(write.data.events).length === 0
              ? "Nothing was changed."
              : `Written: ${Object.keys(write.data.events).join(", ").replaceAll("-", " ")}.`}{" "}
            {write.data.waits && "They count once somebody has agreed to it. "}
            <Link to={`/people/${write.data.worker}`}>Look at the person</Link>
          </p>
        )}
      </div>
    </form>
  );
}
