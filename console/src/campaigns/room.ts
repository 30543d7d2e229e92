import { Check, CircleDashed, CircleSlash, Hourglass, Play, UserCheck, X } from "lucide-react";
import { page, type Room } from "../frame/rooms";

export const room: Room = {
  routes: [
    { path: "/campaigns", lazy: page(() => import("./campaigns-page"), "CampaignsPage") },
    { path: "/campaigns/rounds/:round", lazy: page(() => import("./round-page"), "RoundPage") },
    { path: "/reviews", lazy: page(() => import("./reviews-page"), "ReviewsPage") },
    { path: "/reviews/:review", lazy: page(() => import("./review-page"), "ReviewPage") },
  ],
  places: [
    { to: "/campaigns", name: "Campaigns", order: 29, needs: "see-campaigns", group: "Campaigns" },
    { to: "/reviews", name: "Reviews", order: 30, group: "Campaigns" },
  ],
  states: {
    launching: ["info", Play],
    closing: ["warning", Hourglass],
    closed: ["success", Check],
    undecided: ["muted", CircleDashed],
    decided: ["info", UserCheck],
    kept: ["success", Check],
    announced: ["warning", Hourglass],
    removing: ["warning", Hourglass],
    gone: ["danger", X],
    handed: ["warning", UserCheck],
    again: ["info", Check],
    ended: ["muted", CircleSlash],
  },
};
