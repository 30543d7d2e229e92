import { useQueryClient } from "@tanstack/react-query";
import { DropdownMenu } from "radix-ui";
import { useState } from "react";
import { useNavigate } from "react-router";
import { api } from "../api/client";
import { may, useNow, type Session } from "../api/session";
import { day, time } from "../parts/moments";
import { chosenTheme, chooseTheme, type Theme } from "./theme";

const item =
  "flex h-8 cursor-pointer items-center rounded-sm px-3 outline-none data-[highlighted]:bg-muted-wash";

/** Me: who I am here, how it looks, and the way out. */
export function Me({ session }: { session: Session }) {
  const [theme, setTheme] = useState<Theme>(chosenTheme());
  const navigate = useNavigate();
  const queries = useQueryClient();
  const now = useNow();
  const initials = session.name
    .split(" ")
    .map((part) => part[0])
    .join("")
    .slice(0, 2);
  const signOut = async () => {
    await api.DELETE("/api/v1/session");
    queries.clear();
    navigate("/sign-in");
  };
  return (
    <DropdownMenu.Root>
      <DropdownMenu.Trigger
        aria-label={`Signed in as ${session.name}`}
        className="grid size-8 place-items-center rounded-full bg-info-wash text-dense font-bold text-info"
      >
        {initials}
      </DropdownMenu.Trigger>
      <DropdownMenu.Portal>
        <DropdownMenu.Content
          align="end"
          sideOffset={6}
          className="z-50 w-64 rounded-sm border border-rule bg-raised p-1 shadow-float"
        >
          <div className="px-3 py-2">
            <div className="font-bold">{session.name}</div>
            <div className="text-dense text-muted">
              {session.duties.length > 0 ? session.duties.join(", ") : "sees themselves and their reports"}
            </div>
            <div className="mt-1 text-dense text-muted">
              {session.clockMovable ? "Demo clock: " : "Service clock: "}
              {day(now, session.zone)} {time(now, session.zone)}
            </div>
          </div>
          <DropdownMenu.Separator className="my-1 h-px bg-rule" />
          {session.worker && (
            <DropdownMenu.Item className={item} onSelect={() => navigate(`/people/${session.worker}`)}>
              My own access
            </DropdownMenu.Item>
          )}
          {session.worker && (
            <DropdownMenu.Item className={item} onSelect={() => navigate("/away")}>
              While I am away
            </DropdownMenu.Item>
          )}
          <DropdownMenu.Item className={item} onSelect={() => navigate("/password")}>
            Change my password
          </DropdownMenu.Item>
          {may(session, "release-installation") && (
            <DropdownMenu.Item className={item} onSelect={() => navigate("/installation")}>
              Installation
            </DropdownMenu.Item>
          )}
          {(["light", "dark", "system"] as const).map((each) => (
            <DropdownMenu.Item
              key={each}
              className={item}
              onSelect={() => {
                chooseTheme(each);
                setTheme(each);
              }}
            >
              {{ light: "Light", dark: "Dark", system: "As the system" }[each]}
              {theme === each && <span className="ml-auto text-dense text-muted">chosen</span>}
            </DropdownMenu.Item>
          ))}
          <DropdownMenu.Separator className="my-1 h-px bg-rule" />
          <DropdownMenu.Item className={item} onSelect={() => void signOut()}>
            Sign out
          </DropdownMenu.Item>
        </DropdownMenu.Content>
      </DropdownMenu.Portal>
    </DropdownMenu.Root>
  );
}
