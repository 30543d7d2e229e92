import { page, type Room } from "../frame/rooms";

export const room: Room = {
  routes: [{ path: "/installation", lazy: page(() => import("./installation-page"), "InstallationPage") }],
};
