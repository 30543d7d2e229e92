import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { StrictMode } from "react";
import { createRoot } from "react-dom/client";
import { createBrowserRouter, Navigate, RouterProvider } from "react-router";
import { Problem } from "./api/client";
import { FailedPage } from "./frame/failed-page";
import { Frame } from "./frame/frame";
import { rooms } from "./frame/rooms";
import { PasswordPage, SignInPage } from "./frame/sign-in-page";
import { startTheme } from "./frame/theme";
import { Waiting } from "./parts/states";
import "./theme.css";

startTheme();

const client = new QueryClient({
  defaultOptions: {
    queries: {
      staleTime: 5_000,
      retry: (times, problem) => times < 2 && !(problem instanceof Problem && problem.status < 500),
    },
  },
});

const waiting = <Waiting what="the page" />;

const router = createBrowserRouter([
  { path: "/sign-in", element: <SignInPage />, errorElement: <FailedPage /> },
  { path: "/password", element: <PasswordPage />, errorElement: <FailedPage /> },
  ...rooms
    .flatMap((room) => room.open ?? [])
    .map((route) => ({ ...route, errorElement: <FailedPage />, hydrateFallbackElement: waiting })),
  {
    element: <Frame />,
    errorElement: <FailedPage />,
    hydrateFallbackElement: waiting,
    children: [
      ...rooms
        .flatMap((room) => room.routes)
        .map((route) => ({ ...route, errorElement: <FailedPage />, hydrateFallbackElement: waiting })),
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
