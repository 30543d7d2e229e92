import { CircleCheck, CircleHelp, Ghost, Minus, Plus, TriangleAlert, UserX } from "lucide-react";
import { page, type Room } from "../frame/rooms";

export const room: Room = {
  routes: [
    { path: "/drift", lazy: page(() => import("./drift-page"), "DriftPage") },
    { path: "/drift/:drift", lazy: page(() => import("./drift-page"), "DriftPage") },
  ],
  places: [{ to: "/drift", name: "Drift", order: 35, needs: "see-applications", group: "flow" }],
  finds: { drift: (key) => `/drift/${key}` },
  states: {
    "stray-account": ["warning", CircleHelp],
    "ghost-account": ["danger", Ghost],
    "missing-account": ["danger", UserX],
    "extra-entitlement": ["warning", Plus],
    "missing-entitlement": ["warning", Minus],
    "altered-attribute": ["info", TriangleAlert],
    settled: ["success", CircleCheck],
  },
};
