// Our content policy forbids eval, which zod would otherwise try when a schema is made: imported before any.
import { z } from "zod";

z.config({ jitless: true });
