import { CircleCheck, CircleDashed, CircleX } from "lucide-react";
import { page, type Room } from "../frame/rooms";

export const room: Room = {
  routes: [
    { path: "/partners", lazy: page(() => import("./partners-page"), "PartnersPage") },
    {
      path: "/partners/:organisation/people",
      lazy: page(() => import("./partner-people-page"), "PartnerPeoplePage"),
    },
  ],
  open: [
    { path: "/partners/confirm", lazy: page(() => import("./confirm-page"), "ConfirmPage") },
    { path: "/partners/:organisation", lazy: page(() => import("./door-page"), "DoorPage") },
  ],
  states: {
    waits: ["info", CircleDashed],
    counts: ["success", CircleCheck],
    here: ["success", CircleCheck],
    "does-not": ["danger", CircleX],
  },
};
