import { CircleCheck, CirclePause, Clock, Minus, Plus, UserMinus } from "lucide-react";
import { page, type Room } from "../frame/rooms";

export const room: Room = {
  routes: [
    { path: "/people", lazy: page(() => import("./people-page"), "PeoplePage") },
    { path: "/people/:worker", lazy: page(() => import("./person-page"), "PersonPage") },
    { path: "/work-list", lazy: page(() => import("./work-list-page"), "WorkListPage") },
  ],
  places: [{ to: "/people", name: "People", order: 20 }],
  finds: { person: (key) => `/people/${key}` },
  states: {
    active: ["success", CircleCheck],
    expected: ["info", Clock],
    "on-leave": ["warning", CirclePause],
    left: ["muted", UserMinus],
    erased: ["muted", Minus],
    gained: ["success", Plus],
    lost: ["danger", Minus],
    "at-risk": ["warning", Clock],
    kept: ["muted", CircleCheck],
  },
};
