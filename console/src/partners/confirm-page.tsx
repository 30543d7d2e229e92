import { useMutation } from "@tanstack/react-query";
import { useState } from "react";
import { api, data } from "../api/client";
import { Button } from "../parts/button";
import { Fault } from "../parts/states";
import { Title } from "../parts/title";
import { OpenPage } from "../frame/open-page";

/** Where the letter leads that confirms an address. The key stands behind the #, so no server logs it. */
export function ConfirmPage() {
  const [key] = useState(() => window.location.hash.slice(1));
  const confirm = useMutation({
    mutationFn: () => data(api.POST("/api/v1/partner-doors/confirm", { body: { key } })),
  });
  return (
    <OpenPage>
      {confirm.data ? (
        <>
          <Title strong="Thank you">it is asked for now</Title>
          <p role="status" className="mt-3">
            {confirm.data.offer} for {confirm.data.name} of {confirm.data.organisation}. What comes of it is
            written to {confirm.data.mail}.
          </p>
        </>
      ) : (
        <>
          <Title strong="Is this your address?">you asked for something with us</Title>
          <p className="mt-3">
            If it was you who asked, say so here, and those who decide are asked. If it was not, close this
            page: nothing happens, and nothing of it is kept.
          </p>
          {confirm.error && (
            <div className="mt-4">
              <Fault problem={confirm.error} />
            </div>
          )}
          <div className="mt-5">
            <Button kind="primary" disabled={!key || confirm.isPending} onClick={() => confirm.mutate()}>
              Yes, this is my address
            </Button>
          </div>
        </>
      )}
    </OpenPage>
  );
}
