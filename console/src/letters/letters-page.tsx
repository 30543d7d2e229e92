import { useNavigate, useParams, useSearchParams } from "react-router";
import { GroupPages } from "../frame/group-pages";
import { Choice } from "../parts/choice";
import { Tabs } from "../parts/tabs";
import { Title } from "../parts/title";
import { LetterTemplates } from "./letter-templates";
import { MessageSheet } from "./message-sheet";
import { MessagesTable } from "./messages-table";

/** What was told to people and programs outside, and the letters there are. */
export function LettersPage() {
  const { message } = useParams();
  const navigate = useNavigate();
  const [query, setQuery] = useSearchParams();
  const state = query.get("state") ?? "";
  const address = (id: string) => `/letters/${id}${state ? `?state=${state}` : ""}`;
  return (
    <div className="flex min-h-0 grow flex-col">
      <GroupPages group="flow" name="Around the flow" />
      <Title strong="Letters">what people and programs outside were told</Title>
      <Tabs
        value={query.get("tab") ?? "sent"}
        onChange={(tab) => setQuery({ tab }, { replace: true })}
        tabs={[
          {
            key: "sent",
            name: "Told",
            content: (
              <>
                <div className="mb-3">
                  <Choice
                    label="State"
                    all="All states"
                    value={state}
                    options={["waiting", "sent", "failed"].map((value) => ({ value, text: value }))}
                    onChange={(value) => setQuery(value ? { state: value } : {}, { replace: true })}
                  />
                </div>
                <MessagesTable
                  state={state || undefined}
                  to={address}
                  open={(id) => void navigate(address(id))}
                />
              </>
            ),
          },
          { key: "templates", name: "Templates", content: <LetterTemplates /> },
        ]}
      />
      {message && (
        <MessageSheet id={message} close={() => void navigate(`/letters${state ? `?state=${state}` : ""}`)} />
      )}
    </div>
  );
}
