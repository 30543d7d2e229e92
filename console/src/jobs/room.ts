import { CircleCheck, CircleDashed, CircleX, Minus } from "lucide-react";
import { page, type Room } from "../frame/rooms";

export const room: Room = {
  routes: [
    { path: "/work", lazy: page(() => import("./work-page"), "WorkPage") },
    { path: "/work/:work", lazy: page(() => import("./work-page"), "WorkPage") },
  ],
  places: [{ to: "/work", name: "Work", order: 33, needs: "see-feeds", group: "flow" }],
  states: {
    running: ["info", CircleDashed],
    done: ["success", CircleCheck],
    failed: ["danger", CircleX],
    cancelled: ["muted", Minus],
  },
};
