// The pool form's values, their schema and the body they make. No arithmetic: the server computes volumes.
import { z } from "../../lib/zod";

import { type Schemas } from "../../api/client";
import { type Meta } from "../../api/meta";
import { type Pool } from "../../api/pools";

/** Ways to know the water: shapes are drawn, the rest are words. */
export const WAYS: Record<string, string> = {
  rectangle: "Rectangle",
  round: "Round",
  oval: "Oval",
  kidney: "Kidney",
  l: "L-shape",
  free: "Free form",
  typed: "I know it",
  meter: "A fill meter",
  hose: "Hose and hours",
  typical: "I don't know",
};
export const SHAPES = ["rectangle", "round", "oval", "kidney", "l", "free"];
/** Sizes beyond the first shapes', all as typed. */
export const MORE = [
  "width2",
  "leg_out",
  "leg_along",
  "widths",
  "slope_from",
  "deep_from",
  "deep_to",
  "wall",
  "meter_from",
  "meter_to",
  "rate",
  "hours",
  "steps_along",
  "steps_out",
  "steps_high",
  "steps_count",
  "bench_along",
  "bench_out",
  "bench_high",
] as const;
const texts = Object.fromEntries(MORE.map((name) => [name, z.string()])) as Record<
  (typeof MORE)[number],
  z.ZodString
>;

/** Degrees on the map as typed: empty where nobody said. */
const degrees = (most: number, message: string) =>
  z.string().refine((text) => {
    const value = Number(text.trim().replace(",", "."));
    return text.trim() === "" || (Number.isFinite(value) && Math.abs(value) <= most);
  }, message);
const numberOf = (text: string) => (text.trim() ? Number(text.trim().replace(",", ".")) : null);

export function poolSchema(meta: Meta) {
  const refused = Object.fromEntries(meta.pool_choices["sanitizer"]!.map((c) => [c.id, c.refused]));
  return z
    .object({
      name: z.string().trim().min(1, "Give the pool a name you will know it by."),
      place: z.string(),
      time_zone: z.string().min(1, "Choose a time zone."),
      latitude: degrees(90, "Degrees north, south with a minus: 41.5 or -33.9."),
      longitude: degrees(180, "Degrees east, west with a minus: -93.6 or 151.2."),
      how: z.string(),
      unit: z.string(),
      sure: z.string(),
      amount: z.string(),
      length: z.string(),
      width: z.string(),
      shallow: z.string(),
      deep: z.string(),
      typical: z.string(),
      hopper: z.boolean(),
      solids: z.boolean(),
      ...texts,
      surface: z.string().min(1, "Choose the surface."),
      chlorine_source: z.string().min(1, "Choose how chlorine gets in."),
      installation: z.string().min(1, "Choose one."),
      sanitizer: z.string(),
    })
    .superRefine((v, ctx) => {
      const need = (path: string, message: string) => ctx.addIssue({ code: "custom", path: [path], message });
      if (!v.latitude.trim() !== !v.longitude.trim())
        need(v.latitude.trim() ? "longitude" : "latitude", "Both, or neither.");
      if (refused[v.sanitizer]) need("sanitizer", refused[v.sanitizer]!);
      if (v.how === "typed" && !v.amount.trim()) need("amount", "Type the volume, or choose “I don't know”.");
      if (v.how === "typical" && !v.typical) need("typical", "Choose the size that is nearest.");
      if (SHAPES.includes(v.how)) {
        if (!v.length.trim()) need("length", "This is needed.");
        if (v.how !== "round" && v.how !== "free" && !v.width.trim()) need("width", "This is needed.");
        if (!v.shallow.trim()) need("shallow", "This is needed.");
      }
    });
}
export type PoolForm = z.infer<ReturnType<typeof poolSchema>>;

export function defaults(pool: Pool | undefined, unitSystem: string): PoolForm {
  const zone = Intl.DateTimeFormat().resolvedOptions().timeZone;
  const v = pool?.volume;
  return {
    name: pool?.name ?? "",
    place: pool?.place ?? (zone.split("/").pop() ?? "").replaceAll("_", " "),
    time_zone: pool?.time_zone ?? zone,
    latitude: pool?.latitude == null ? "" : String(pool.latitude),
    longitude: pool?.longitude == null ? "" : String(pool.longitude),
    how: v ? (v.how === "shape" ? v.plan : v.how) : "typed",
    unit: v ? (v.unit === "ft" ? "gal" : v.unit === "m" ? "l" : v.unit) : unitSystem === "us" ? "gal" : "l",
    sure: v?.sure ?? "papers",
    amount: v?.amount ?? "",
    length: v?.length ?? "",
    width: v?.width ?? "",
    shallow: v?.shallow ?? "",
    deep: v?.deep ?? "",
    typical: v?.typical ?? "",
    hopper: v?.bottom === "hopper",
    solids: !!(v?.steps_along || v?.bench_along),
    ...(Object.fromEntries(MORE.map((name) => [name, v?.[name] ?? ""])) as Record<
      (typeof MORE)[number],
      string
    >),
    surface: pool?.surface ?? "",
    chlorine_source: pool?.chlorine_source ?? "",
    installation: pool?.installation ?? "in_ground",
    sanitizer: pool?.sanitizer ?? "chlorine",
  };
}

export function bodyOf(v: PoolForm): Omit<Schemas["NewPool"], "id"> {
  const shape = SHAPES.includes(v.how);
  const solid = (name: string) => name.startsWith("steps_") || name.startsWith("bench_");
  const metric = v.unit === "l" || v.unit === "m";
  const volume: Schemas["VolumeBody"] = {
    // What a form does not show is not sent: it would be judged unseen.
    ...(Object.fromEntries(
      MORE.map((name) => [name, solid(name) && !(shape && v.solids) ? "" : (v[name] ?? "")]),
    ) as Record<(typeof MORE)[number], string>),
    how: shape ? "shape" : (v.how as "typed" | "meter" | "hose" | "typical"),
    unit:
      v.unit === "ft3" || v.unit === "m3"
        ? v.how === "meter"
          ? v.unit
          : "gal"
        : shape
          ? metric
            ? "m"
            : "ft"
          : metric
            ? "l"
            : "gal",
    amount: v.how === "typed" ? v.amount : "",
    sure: v.sure as "papers",
    plan: shape ? (v.how as "rectangle") : "rectangle",
    // A deep end makes a sloped bottom; none, or the same depth as text, a level one.
    bottom:
      shape && v.hopper
        ? "hopper"
        : shape && v.deep.trim() && v.deep.trim() !== v.shallow.trim()
          ? "sloped"
          : "level",
    length: shape ? v.length : "",
    width: shape && v.how !== "round" && v.how !== "free" ? v.width : "",
    shallow: shape ? v.shallow : "",
    deep: shape ? v.deep : "",
    typical: v.how === "typical" ? v.typical : "",
  };
  return {
    name: v.name,
    place: v.place,
    time_zone: v.time_zone,
    latitude: numberOf(v.latitude),
    longitude: numberOf(v.longitude),
    volume,
    surface: v.surface,
    chlorine_source: v.chlorine_source,
    installation: v.installation,
    sanitizer: v.sanitizer,
  };
}
