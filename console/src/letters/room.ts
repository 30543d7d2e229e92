import { page, type Room } from "../frame/rooms";

export const room: Room = {
  routes: [
    { path: "/letters", lazy: page(() => import("./letters-page"), "LettersPage") },
    { path: "/letters/:message", lazy: page(() => import("./letters-page"), "LettersPage") },
  ],
  places: [{ to: "/letters", name: "Letters", order: 37, needs: "see-letters", group: "flow" }],
};
