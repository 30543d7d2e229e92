import { page, type Room } from "../frame/rooms";

export const room: Room = {
  routes: [{ path: "/", lazy: page(() => import("./today-page"), "TodayPage") }],
  places: [{ to: "/", name: "Today", order: 10 }],
};
