import { CircleCheck, CircleDashed, CirclePause, CircleX, Minus } from "lucide-react";
import { page, type Room } from "../frame/rooms";

export const room: Room = {
  routes: [
    { path: "/playbooks", lazy: page(() => import("./playbooks-page"), "PlaybooksPage") },
    { path: "/playbooks/:playbook", lazy: page(() => import("./playbook-page"), "PlaybookPage") },
    { path: "/playbooks/runs/:run", lazy: page(() => import("./run-page"), "RunPage") },
  ],
  places: [{ to: "/playbooks", name: "Playbooks", order: 36, needs: "see-playbooks", group: "flow" }],
  finds: { playbook: (key) => `/playbooks/${key}` },
  states: {
    open: ["info", CircleDashed],
    held: ["warning", CirclePause],
    stopped: ["danger", CircleX],
    done: ["success", CircleCheck],
    ended: ["muted", Minus],
    "left-out": ["muted", Minus],
    failed: ["danger", CircleX],
  },
};
