import { CircleCheck, Minus } from "lucide-react";
import { page, type Room } from "../frame/rooms";

export const room: Room = {
  routes: [
    { path: "/held", lazy: page(() => import("./held-page"), "HeldPage") },
    { path: "/held/limits", lazy: page(() => import("./limits-page"), "LimitsPage") },
    { path: "/held/:change", lazy: page(() => import("./held-page"), "HeldPage") },
  ],
  places: [{ to: "/held", name: "Held", order: 32, needs: "see-held-changes", group: "flow" }],
  states: { released: ["success", CircleCheck], dropped: ["muted", Minus] },
};
