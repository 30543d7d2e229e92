import { useRouteError } from "react-router";
import { Button } from "../parts/button";
import { Fault } from "../parts/states";

/** A page that cannot be shown: the rest of the console stays, and another try is one press away. */
export function FailedPage() {
  const error = useRouteError();
  const gone = error instanceof TypeError && /import|fetch/i.test(error.message);
  return (
    <div className="max-w-prose">
      <Fault
        problem={
          gone
            ? new Error("This page could not be loaded. The service may have been renewed meanwhile.")
            : error
        }
      />
      <Button className="mt-3" onClick={() => window.location.reload()}>
        Load it again
      </Button>
    </div>
  );
}
