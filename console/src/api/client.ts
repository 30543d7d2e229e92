import createClient from "openapi-fetch";
import type { components, paths } from "./schema";

export type Schemas = components["schemas"];

/** What the service said when it refused: a problem document (RFC 9457). */
export class Problem extends Error {
  constructor(
    readonly status: number,
    detail: string,
    readonly errors: { pointer: string; detail: string }[] = [],
  ) {
    super(detail);
  }
}

/** The proof that a change comes from this console; the service sets it as a cookie. */
export function forgeryProof(): Record<string, string> {
  const cookie = document.cookie.split("; ").find((each) => each.startsWith("XSRF-TOKEN="));
  return cookie ? { "X-XSRF-TOKEN": decodeURIComponent(cookie.slice("XSRF-TOKEN=".length)) } : {};
}

export const api = createClient<paths>({ baseUrl: window.location.origin });

api.use({
  onRequest({ request }) {
    for (const [name, value] of Object.entries(forgeryProof())) request.headers.set(name, value);
    return request;
  },
  async onResponse({ response }) {
    if (!response.ok) throw await problemOf(response);
  },
});

export async function problemOf(response: Response): Promise<Problem> {
  const body = await response.json().catch(() => ({}));
  const detail = body.detail ?? `The service answered with status ${response.status}.`;
  return new Problem(response.status, detail, body.errors ?? []);
}

/** The data of an answer; refusals were thrown already. */
export async function data<T>(answer: Promise<{ data?: T }>): Promise<T> {
  return (await answer).data as T;
}
