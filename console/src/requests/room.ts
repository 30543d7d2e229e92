import { CircleCheck, CircleDashed, CirclePause, CircleX, Clock, Minus, Undo2 } from "lucide-react";
import { page, type Room } from "../frame/rooms";

export const room: Room = {
  routes: [
    { path: "/requests", lazy: page(() => import("./requests-page"), "RequestsPage") },
    { path: "/requests/ask/:offer", lazy: page(() => import("./ask-page"), "AskPage") },
    { path: "/requests/list", lazy: page(() => import("./ask-list-page"), "AskListPage") },
    { path: "/requests/:request", lazy: page(() => import("./request-page"), "RequestPage") },
    { path: "/portfolios", lazy: page(() => import("./portfolios-page"), "PortfoliosPage") },
    { path: "/portfolios/:portfolio", lazy: page(() => import("./portfolio-page"), "PortfolioPage") },
    {
      path: "/portfolios/:portfolio/packages/:package",
      lazy: page(() => import("./package-page"), "PackagePage"),
    },
    { path: "/away", lazy: page(() => import("./away-page"), "AwayPage") },
  ],
  open: [{ path: "/decide", lazy: page(() => import("./decide-page"), "DecidePage") }],
  places: [
    { to: "/requests", name: "Requests", order: 27 },
    { to: "/portfolios", name: "Access", order: 25, needs: "see-portfolios" },
  ],
  finds: { request: (key) => `/requests/${key}`, offer: (key) => `/requests/ask/${key}` },
  states: {
    ahead: ["muted", CircleDashed],
    approved: ["success", CircleCheck],
    met: ["success", CircleCheck],
    declined: ["danger", CircleX],
    lapsed: ["danger", Clock],
    withdrawn: ["muted", Undo2],
    dropped: ["muted", Minus],
    held: ["warning", CirclePause],
  },
};
