import { CircleCheck, CircleDashed, CirclePause, Minus, TriangleAlert } from "lucide-react";
import { page, type Room } from "../frame/rooms";

export const room: Room = {
  routes: [
    { path: "/applications", lazy: page(() => import("./applications-page"), "ApplicationsPage") },
    {
      path: "/applications/:application",
      lazy: page(() => import("./application-page"), "ApplicationPage"),
    },
  ],
  places: [
    { to: "/applications", name: "Applications", order: 33, needs: "see-applications", group: "flow" },
  ],
  finds: { application: (key) => `/applications/${key}` },
  states: {
    well: ["success", CircleCheck],
    unwell: ["danger", TriangleAlert],
    unknown: ["muted", CircleDashed],
    enabled: ["success", CircleCheck],
    disabled: ["warning", CirclePause],
    none: ["muted", Minus],
  },
};
