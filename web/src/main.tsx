import "@fontsource-variable/atkinson-hyperlegible-next";

import "./app/print.css";

import { createRoot } from "react-dom/client";
import { z } from "zod";

import { App } from "./app/App";

// Our content policy forbids eval, which zod would otherwise try.
z.config({ jitless: true });
createRoot(document.getElementById("root")!).render(<App />);
