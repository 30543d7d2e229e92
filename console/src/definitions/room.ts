import { page, type Room } from "../frame/rooms";

export const room: Room = {
  routes: [
    {
      path: "/definitions/:kind/:key",
      lazy: page(() => import("./definition-page"), "DefinitionPage"),
    },
  ],
};
