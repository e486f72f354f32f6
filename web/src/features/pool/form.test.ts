import { describe, expect, it } from "vitest";

import { type Meta } from "../../api/meta";
import { type Pool } from "../../api/pools";
import { bodyOf, defaults, poolSchema } from "./form";

const meta = {
  pool_choices: { sanitizer: [{ id: "chlorine", label: "Chlorine", refused: null }] },
} as unknown as Meta;
const pool = {
  name: "Garden",
  place: "Larch Hollow",
  time_zone: "America/Chicago",
  latitude: 41.5,
  longitude: -93.6,
  volume: { how: "typed", unit: "gal", amount: "15,000" },
  surface: "plaster",
  chlorine_source: "liquid",
  installation: "in_ground",
  sanitizer: "chlorine",
} as unknown as Pool;
const form = defaults(pool, "us");
const problems = (part: object) =>
  Object.fromEntries(
    (poolSchema(meta).safeParse({ ...form, ...part }).error?.issues ?? []).map((i) => [
      i.path.join("."),
      i.message,
    ]),
  );

describe("the place of a pool on the map", () => {
  it("is sent as it was when only something else changed", () => {
    expect(bodyOf({ ...form, name: "Yard" })).toMatchObject({
      latitude: 41.5,
      longitude: -93.6,
      name: "Yard",
    });
  });

  it.each([
    [{ latitude: "-33,9", longitude: "151.2" }, -33.9, 151.2],
    [{ latitude: "", longitude: " " }, null, null],
  ])("reads %o", (part, latitude, longitude) => {
    expect(problems(part)).toEqual({});
    expect(bodyOf({ ...form, ...part })).toMatchObject({ latitude, longitude });
  });

  it.each([
    [{ latitude: "north" }, "latitude", "Degrees north, south with a minus: 41.5 or -33.9."],
    [{ latitude: "91" }, "latitude", "Degrees north, south with a minus: 41.5 or -33.9."],
    [{ longitude: "-200" }, "longitude", "Degrees east, west with a minus: -93.6 or 151.2."],
    [{ latitude: "41.5", longitude: "" }, "longitude", "Both, or neither."],
  ])("refuses %o at its field", (part, field, message) => {
    expect(problems(part)).toMatchObject({ [field]: message });
  });
});
