// A small part of what the server tells of measures and methods, for tests.
import { type Meta } from "../api/meta";

const measure = (id: string, unit: string, more: object = {}) => ({
  id,
  label: id === "ph" ? "pH" : `Measure ${id}`,
  short: id.toUpperCase(),
  unit,
  decimals: 1,
  least: 0,
  most: 100,
  extra: false,
  usual_method: "drops",
  ...more,
});

export const META = {
  measures: [
    measure("fc", "ppm"),
    measure("cc", "ppm"),
    measure("tc", "ppm"),
    measure("rare", "ppb", { extra: true, usual_method: "lab" }),
    measure("ph", ""),
    measure("temp", "°F", { usual_method: "thermometer" }),
  ],
  methods: [
    { id: "drops", reads: ["fc", "cc", "tc", "ph"], per_drop: { fc: 0.5 } },
    { id: "strip", reads: ["fc", "ph", "temp"], per_drop: {} },
    { id: "lab", reads: ["fc", "rare"], per_drop: {} },
  ],
} as unknown as Meta;
