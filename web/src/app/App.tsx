import { ChakraProvider } from "@chakra-ui/react";
import { createBrowserRouter, Navigate, RouterProvider } from "react-router";

import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { connection, Problem } from "../api/client";
import { BenchPage } from "../features/bench/BenchPage";
import { TodayPage } from "../features/today/TodayPage";
import { Shell } from "./Shell";
import { system } from "./theme";

const client = new QueryClient({
  defaultOptions: {
    queries: {
      retry: (count, error) =>
        !(error instanceof Problem && error.status > 0 && error.status < 500) && count < 30,
      retryDelay: 1000,
      networkMode: "always",
    },
    mutations: { networkMode: "always" },
  },
});
// When the server is back, what was shown may be old.
connection.subscribe((online) => online && void client.invalidateQueries());

const pool = () => import("../features/pool/PoolPage");
const log = () => import("../features/log/LogPage");
const sheet = () => import("../features/do/DoPage");
// Work under way and the log must open though the server has gone meanwhile: fetched once the first page stands.
window.setTimeout(() => void Promise.allSettled([sheet(), log()]), 2000);

const router = createBrowserRouter([
  {
    element: <Shell />,
    children: [
      { path: "/", element: <TodayPage /> },
      { path: "/do/:id", lazy: async () => ({ Component: (await sheet()).DoPage }) },
      { path: "/do", element: <Navigate to="/" replace /> },
      { path: "/bench", element: <BenchPage /> },
      { path: "/log", lazy: async () => ({ Component: (await log()).LogPage }) },
      // What is not looked at daily comes when it is asked for.
      {
        path: "/clear-up",
        lazy: async () => ({ Component: (await import("../features/clearup/ClearUpPage")).ClearUpPage }),
      },
      {
        path: "/care",
        lazy: async () => ({ Component: (await import("../features/care/CarePage")).CarePage }),
      },
      {
        path: "/log/graphs",
        lazy: async () => ({ Component: (await import("../features/graphs/GraphsPage")).GraphsPage }),
      },
      {
        path: "/log/ahead",
        lazy: async () => ({ Component: (await import("../features/ahead/AheadPage")).AheadPage }),
      },
      {
        path: "/log/files",
        lazy: async () => ({ Component: (await import("../features/transfer/FilesPage")).FilesPage }),
      },
      {
        path: "/log/files/:id",
        lazy: async () => ({ Component: (await import("../features/transfer/ImportPage")).ImportPage }),
      },
      { path: "/pool", lazy: async () => ({ Component: (await pool()).PoolPage }) },
      { path: "/pool/new", lazy: async () => ({ Component: (await pool()).NewPoolPage }) },
      { path: "/pool/targets", lazy: async () => ({ Component: (await pool()).TargetsPage }) },
      { path: "/pool/equipment", lazy: async () => ({ Component: (await pool()).EquipmentPage }) },
      {
        path: "/pool/machines",
        lazy: async () => ({ Component: (await import("../features/machines/MachinesPage")).MachinesPage }),
      },
      {
        path: "/care/away",
        lazy: async () => ({ Component: (await import("../features/machines/AwayPage")).AwayPage }),
      },
      {
        path: "/care/season",
        lazy: async () => ({ Component: (await import("../features/season/SeasonPage")).SeasonPage }),
      },
      {
        path: "/shelf",
        lazy: async () => ({ Component: (await import("../features/shelf/ShelfPage")).ShelfPage }),
      },
      { path: "/why", lazy: async () => ({ Component: (await import("../features/why/WhyPage")).WhyPage }) },
      {
        path: "/more",
        lazy: async () => ({ Component: (await import("../features/more/MorePage")).MorePage }),
      },
      { path: "*", element: <TodayPage /> },
    ],
  },
]);

export function App() {
  return (
    <ChakraProvider value={system}>
      <QueryClientProvider client={client}>
        <RouterProvider router={router} />
      </QueryClientProvider>
    </ChakraProvider>
  );
}
