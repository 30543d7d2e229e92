import { page, type Room } from "../frame/rooms";

export const room: Room = {
  routes: [{ path: "/idle", lazy: page(() => import("./idle-page"), "IdlePage") }],
  places: [{ to: "/idle", name: "Idle", order: 36, needs: "see-applications", group: "flow" }],
};
