import { CircleCheck, CircleDashed, CircleX, ClipboardList, Clock, Eye, Minus } from "lucide-react";
import { page, type Room } from "../frame/rooms";

export const room: Room = {
  routes: [
    { path: "/operations", lazy: page(() => import("./operations-page"), "OperationsPage") },
    { path: "/tasks", lazy: page(() => import("./tasks-page"), "TasksPage") },
    { path: "/operations/:operation", lazy: page(() => import("./operations-page"), "OperationsPage") },
  ],
  places: [
    { to: "/tasks", name: "Tasks", order: 15, needs: "decide-operations" },
    { to: "/operations", name: "Operations", order: 34, needs: "see-applications", group: "flow" },
  ],
  states: {
    sent: ["info", CircleDashed],
    confirmed: ["success", CircleCheck],
    fault: ["danger", CircleX],
    task: ["warning", ClipboardList],
    "by-hand": ["muted", Eye],
    "given-up": ["muted", Minus],
    superseded: ["muted", CircleDashed],
    "being added": ["info", Clock],
    "being removed": ["warning", Clock],
  },
};
