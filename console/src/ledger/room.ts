import { page, type Room } from "../frame/rooms";

export const room: Room = {
  routes: [{ path: "/ledger", lazy: page(() => import("./ledger-page"), "LedgerPage") }],
  places: [{ to: "/ledger", name: "Ledger", order: 80, needs: "read-ledger" }],
};
