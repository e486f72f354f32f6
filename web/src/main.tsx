import "@fontsource-variable/atkinson-hyperlegible-next";

import "./app/print.css";

import { createRoot } from "react-dom/client";

import { App } from "./app/App";

createRoot(document.getElementById("root")!).render(<App />);
