import { Button } from "./button";

/** The way to the next page of a list that is no table; nothing once all of it is shown. */
export function More({ whole, more, what }: { whole: boolean; more: () => void; what: string }) {
  return whole ? null : (
    <Button className="mt-3" onClick={more}>
      Show {what}
    </Button>
  );
}
