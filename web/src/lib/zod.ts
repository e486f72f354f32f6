// Our content policy forbids eval, which zod would otherwise try when a schema is made: taken from here alone.
import { z } from "zod";

z.config({ jitless: true });

export { z };
