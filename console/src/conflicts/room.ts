import { page, type Room } from "../frame/rooms";

export const room: Room = {
  routes: [
    { path: "/conflicts", lazy: page(() => import("./conflicts-page"), "ConflictsPage") },
    { path: "/conflicts/:conflict", lazy: page(() => import("./conflict-page"), "ConflictPage") },
  ],
  places: [{ to: "/conflicts", name: "Conflicts", order: 28, needs: "see-conflicts" }],
};
