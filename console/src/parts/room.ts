import { page, type Room } from "../frame/rooms";

export const room: Room = {
  routes: [{ path: "/parts", lazy: page(() => import("./parts-page"), "PartsPage") }],
};
