import { CircleCheck, CircleDashed, TriangleAlert } from "lucide-react";
import { type Room } from "../frame/rooms";

export const room: Room = {
  routes: [],
  states: {
    answered: ["success", CircleCheck],
    unanswered: ["info", CircleDashed],
    problems: ["warning", TriangleAlert],
  },
};
