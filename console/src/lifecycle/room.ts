import {
  CircleCheck,
  CircleDashed,
  CirclePause,
  CircleX,
  Clock,
  Info,
  UserMinus,
  UserPlus,
} from "lucide-react";
import { page, type Room } from "../frame/rooms";

export const room: Room = {
  routes: [
    { path: "/flow", lazy: page(() => import("./flow-page"), "FlowPage") },
    { path: "/feeds", lazy: page(() => import("./feeds-page"), "FeedsPage") },
    { path: "/feeds/:feed", lazy: page(() => import("./feeds-page"), "FeedsPage") },
    { path: "/records", lazy: page(() => import("./records-page"), "RecordsPage") },
    { path: "/cut-off", lazy: page(() => import("./cut-offs-page"), "CutOffsPage") },
    { path: "/cut-off/:worker", lazy: page(() => import("./cut-off-page"), "CutOffPage") },
  ],
  places: [
    { to: "/flow", name: "Flow", order: 30, needs: "see-feeds", group: "flow" },
    { to: "/feeds", name: "Feeds", order: 31, needs: "see-feeds", group: "flow" },
    { to: "/records", name: "Records", order: 33, needs: "load-feeds", group: "flow" },
    { to: "/cut-off", name: "Cut off", order: 32, needs: "see-feeds", group: "flow" },
  ],
  states: {
    loaded: ["success", CircleCheck],
    reading: ["info", CircleDashed],
    refused: ["danger", CircleX],
    joiner: ["success", UserPlus],
    rehire: ["success", UserPlus],
    mover: ["info", CircleDashed],
    leaver: ["danger", UserMinus],
    "no-show": ["danger", UserMinus],
    correction: ["muted", Info],
    "leave-begins": ["warning", CirclePause],
    "leave-ends": ["success", CircleCheck],
    "start-moved": ["info", Clock],
  },
};
