import { useQuery } from "@tanstack/react-query";
import { api, data, type Schemas } from "../api/client";

export type Fact = Schemas["Fact"];

/** Where a fact is shown besides among all facts of a person; its definition says so. */
export type Shown = "title" | "subtitle" | "column" | "filter" | "grouping";

/** The facts that people have here. */
export function useFacts(): Fact[] {
  const { data: facts } = useQuery({
    queryKey: ["facts"],
    staleTime: 300_000,
    queryFn: () => data(api.GET("/api/v1/facts")),
  });
  return facts?.items ?? [];
}

/** The texts of a person's facts that are shown in some place. */
export function texts(facts: Fact[], where: Shown, values: Record<string, unknown>): string[] {
  return facts
    .filter((fact) => fact.shown.includes(where))
    .map((fact) => String(values[fact.key] ?? ""))
    .filter(Boolean);
}
