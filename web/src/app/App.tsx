import { ChakraProvider } from "@chakra-ui/react";
import { createBrowserRouter, Navigate, RouterProvider } from "react-router";

import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { connection, Problem } from "../api/client";
import { BenchPage } from "../features/bench/BenchPage";
import { FilesPage } from "../features/transfer/FilesPage";
import { GraphsPage } from "../features/graphs/GraphsPage";
import { ImportPage } from "../features/transfer/ImportPage";
import { LogPage } from "../features/log/LogPage";
import { MorePage } from "../features/more/MorePage";
import { DoPage } from "../features/do/DoPage";
import { EquipmentPage, PoolPage, TargetsPage } from "../features/pool/PoolPage";
import { ShelfPage } from "../features/shelf/ShelfPage";
import { TodayPage } from "../features/today/TodayPage";
import { WhyPage } from "../features/why/WhyPage";
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

const router = createBrowserRouter([
  {
    element: <Shell />,
    children: [
      { path: "/", element: <TodayPage /> },
      { path: "/do/:id", element: <DoPage /> },
      { path: "/do", element: <Navigate to="/" replace /> },
      {
        // Asked for a few times a season: it comes when it is wanted.
        path: "/clear-up",
        lazy: async () => ({ Component: (await import("../features/clearup/ClearUpPage")).ClearUpPage }),
      },
      { path: "/bench", element: <BenchPage /> },
      { path: "/log", element: <LogPage /> },
      { path: "/log/graphs", element: <GraphsPage /> },
      { path: "/log/files", element: <FilesPage /> },
      { path: "/log/files/:id", element: <ImportPage /> },
      { path: "/pool", element: <PoolPage key="edit" /> },
      { path: "/pool/new", element: <PoolPage key="new" adding /> },
      { path: "/pool/targets", element: <TargetsPage /> },
      { path: "/pool/equipment", element: <EquipmentPage /> },
      { path: "/shelf", element: <ShelfPage /> },
      { path: "/why", element: <WhyPage /> },
      { path: "/more", element: <MorePage /> },
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
