// Plan and section to scale, the water at its level. Points come from the API in metres; this maps them to pixels.
import { Box, Text } from "@chakra-ui/react";
import { useId } from "react";

type Points = [number, number][];
const W = 520;
const PAD = 14;

export function PoolDrawing({ outline, floor, what }: { outline: Points; floor: Points; what: string }) {
  const id = useId();
  if (outline.length === 0 || floor.length === 0) return null;
  const length = floor[floor.length - 1]![0];
  const across = outline.map((p) => p[1]);
  const [low, high] = [Math.min(...across), Math.max(...across)];
  const deep = Math.max(...floor.map((p) => p[1]));
  // One scale for both, so that a shallow pool looks shallow; never higher than the page can hold.
  const scale = Math.min((W - 2 * PAD) / length, 250 / (high - low + deep + 1));
  const x = (m: number) => PAD + m * scale;
  const top = PAD + (high - low) * scale;
  const gap = 30;
  const y = (m: number) => top + gap + m * scale;
  const path = (points: Points, yOf: (m: number) => number) => points.map(([px, py], i) => `${i ? "L" : "M"}${x(px)} ${yOf(py)}`).join("");
  const height = y(deep) + PAD;
  return (
    <Box color="ink" mt="12px">
      <svg viewBox={`0 0 ${W} ${height}`} role="img" aria-labelledby={id} style={{ width: "100%", display: "block" }}>
        <title id={id}>{`The pool from above and cut along its length: ${what}`}</title>
        <path d={`${path(outline, (m) => PAD + (high - m) * scale)}Z`} fill="var(--chakra-colors-channel)" stroke="currentColor" strokeWidth={2} strokeLinejoin="round" />
        <path d={`M${x(0)} ${y(0)}${path(floor, y).replace("M", "L")}L${x(length)} ${y(0)}Z`} fill="var(--chakra-colors-channel)" />
        <path d={`M${x(0)} ${y(0) - 8}V${y(0)}${path(floor, y).replace("M", "L")}L${x(length)} ${y(0) - 8}`} fill="none" stroke="currentColor" strokeWidth={2} strokeLinejoin="round" />
        <line x1={x(0)} x2={x(length)} y1={y(0)} y2={y(0)} stroke="currentColor" strokeWidth={1} strokeDasharray="2 4" />
      </svg>
      <Text fontSize="14px" color="muted">From above, and cut along its length; the same scale.</Text>
    </Box>
  );
}
