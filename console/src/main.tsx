import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { StrictMode } from "react";
import { createRoot } from "react-dom/client";
import { createBrowserRouter, Navigate, RouterProvider } from "react-router";
import { Problem } from "./api/client";
import { ApplicationsPage } from "./applications/applications-page";
import { HeldPage } from "./brakes/held-page";
import { Frame } from "./frame/frame";
import { PasswordPage, SignInPage } from "./frame/sign-in-page";
import { startTheme } from "./frame/theme";
import { LedgerPage } from "./ledger/ledger-page";
import { FeedsPage } from "./lifecycle/feeds-page";
import { FlowPage } from "./lifecycle/flow-page";
import { PartsPage } from "./parts/parts-page";
import { PeoplePage } from "./people/people-page";
import { PersonPage } from "./people/person-page";
import { WorkListPage } from "./people/work-list-page";
import { OperationsPage } from "./provisioning/operations-page";
import "./theme.css";
import { TodayPage } from "./today/today-page";

startTheme();

const client = new QueryClient({
  defaultOptions: {
    queries: {
      staleTime: 5_000,
      retry: (times, problem) => times < 2 && !(problem instanceof Problem && problem.status < 500),
    },
  },
});

const router = createBrowserRouter([
  { path: "/sign-in", element: <SignInPage /> },
  { path: "/password", element: <PasswordPage /> },
  {
    element: <Frame />,
    children: [
      { path: "/", element: <TodayPage /> },
      { path: "/people", element: <PeoplePage /> },
      { path: "/people/:worker", element: <PersonPage /> },
      { path: "/flow", element: <FlowPage /> },
      { path: "/feeds", element: <FeedsPage /> },
      { path: "/feeds/:feed", element: <FeedsPage /> },
      { path: "/applications", element: <ApplicationsPage /> },
      { path: "/applications/:application", element: <ApplicationsPage /> },
      { path: "/operations", element: <OperationsPage /> },
      { path: "/operations/:operation", element: <OperationsPage /> },
      { path: "/held", element: <HeldPage /> },
      { path: "/held/:change", element: <HeldPage /> },
      { path: "/work-list", element: <WorkListPage /> },
      { path: "/ledger", element: <LedgerPage /> },
      { path: "/parts", element: <PartsPage /> },
      { path: "*", element: <Navigate to="/" replace /> },
    ],
  },
]);

createRoot(document.getElementById("root")!).render(
  <StrictMode>
    <QueryClientProvider client={client}>
      <RouterProvider router={router} />
    </QueryClientProvider>
  </StrictMode>,
);
