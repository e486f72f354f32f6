// Plan and section to scale, the water at its level. Points come from the API in metres; sizes are told as they were typed.
import { Box, Text } from "@chakra-ui/react";
import { useId } from "react";

import { type Schemas } from "../../api/client";

type Points = [number, number][];
export type Sizes = { length: string; width: string; shallow: string; deep: string };
const W = 560;
const LEFT = 84;
const RIGHT = 84;

export function PoolDrawing({ volume, sizes }: { volume: Schemas["VolumeView"]; sizes: Sizes }) {
  const id = useId().replaceAll(":", "");
  const { outline, floor, solids } = volume as {
    outline: Points;
    floor: Points;
    solids: Schemas["SolidView"][];
  };
  if (outline.length === 0 || floor.length === 0) return null;
  const length = floor[floor.length - 1]![0];
  const across = outline.map((p) => p[1]);
  const [low, high] = [Math.min(...across), Math.max(...across)];
  const deep = Math.max(...floor.map((p) => p[1]));
  // One scale for both, so that a shallow pool looks shallow; never higher than a page can hold.
  const scale = Math.min((W - LEFT - RIGHT) / length, 300 / (high - low + deep));
  const left = LEFT + (W - LEFT - RIGHT - length * scale) / 2;
  const x = (m: number) => left + m * scale;
  const plan = (m: number) => 16 + (high - m) * scale;
  const waterline = 16 + (high - low) * scale + 44;
  const cut = (m: number) => waterline + m * scale;
  const line = (points: Points, y: (m: number) => number) =>
    points.map(([px, py], i) => `${i ? "L" : "M"}${x(px).toFixed(1)} ${y(py).toFixed(1)}`).join("");
  const below = line(floor, cut).replace("M", "L");
  const ground = cut(deep) + 16;
  const height = ground + 26;
  const text = { fontSize: 14, fill: "currentColor" } as const;
  const breaks = floor.slice(1, -1).map((p) => p[0]);
  return (
    <Box color="ink" mt="8px">
      <svg
        viewBox={`0 0 ${W} ${height}`}
        role="img"
        aria-labelledby={`${id}t`}
        style={{ width: "100%", display: "block" }}
      >
        <title id={`${id}t`}>{`The pool from above and cut along its length: ${volume.text}`}</title>
        <defs>
          <clipPath id={`${id}c`}>
            <path d={`${line(outline, plan)}Z`} />
          </clipPath>
          <pattern
            id={`${id}h`}
            width="6"
            height="6"
            patternUnits="userSpaceOnUse"
            patternTransform="rotate(-45)"
          >
            <line x1="0" x2="0" y1="0" y2="6" stroke="var(--chakra-colors-muted)" strokeWidth="1" />
          </pattern>
        </defs>
        <path
          d={`${line(outline, plan)}Z`}
          fill="var(--chakra-colors-channel)"
          stroke="currentColor"
          strokeWidth={2}
          strokeLinejoin="round"
        />
        <g clipPath={`url(#${id}c)`} fill="none" stroke="currentColor">
          {breaks.map((b) => (
            <line
              key={b}
              x1={x(b)}
              x2={x(b)}
              y1={plan(high)}
              y2={plan(low)}
              strokeWidth={1}
              strokeDasharray="2 5"
            />
          ))}
          {solids.flatMap((s, n) =>
            s.treads.map(([a, b]) => (
              <rect
                key={`${n}${a}`}
                x={x(a)}
                width={(b - a) * scale}
                y={plan(Math.min(s.half_across, high))}
                height={(Math.min(s.half_across, high) - Math.max(-s.half_across, low)) * scale}
                fill="var(--chakra-colors-paper)"
                strokeWidth={1.5}
              />
            )),
          )}
        </g>
        <text
          {...text}
          x={left - 10}
          y={(plan(across[0]!) + plan(across[across.length - 1]!)) / 2 + 5}
          textAnchor="end"
        >
          {sizes.width}
        </text>

        <path
          d={`M${x(0) - 26} ${waterline - 14}H${x(0)}V${cut(0)}${below}L${x(length)} ${waterline - 14}H${x(length) + 26}V${ground}H${x(0) - 26}Z`}
          fill={`url(#${id}h)`}
        />
        <path d={`M${x(0)} ${cut(0)}${below}L${x(length)} ${cut(0)}Z`} fill="var(--chakra-colors-channel)" />
        {solids.map((s, n) => (
          <path
            key={n}
            d={`${line(s.section as Points, cut)}Z`}
            fill="var(--chakra-colors-paper)"
            stroke="currentColor"
            strokeWidth={1.5}
            strokeLinejoin="round"
          />
        ))}
        <path
          d={`M${x(0) - 26} ${waterline - 14}H${x(0)}V${cut(0)}${below}L${x(length)} ${waterline - 14}H${x(length) + 26}`}
          fill="none"
          stroke="currentColor"
          strokeWidth={2}
          strokeLinejoin="round"
        />
        <line x1={x(0)} x2={x(length)} y1={waterline} y2={waterline} stroke="currentColor" strokeWidth={1} />
        <path
          d={`M${x(length / 2) - 6} ${waterline - 11}h12l-6 10z`}
          fill="none"
          stroke="currentColor"
          strokeWidth={1.5}
          strokeLinejoin="round"
        />
        <text {...text} x={x(0) - 32} y={cut(floor[0]![1] / 2) + 5} textAnchor="end">
          {sizes.shallow}
        </text>
        <text {...text} x={x(length) + 32} y={cut(floor[floor.length - 1]![1] / 2) + 5}>
          {sizes.deep}
        </text>
        <path
          d={`M${x(0)} ${ground + 6}v10m0 -5H${x(length / 2) - 34}m68 0H${x(length)}m0 -5v10`}
          fill="none"
          stroke="currentColor"
          strokeWidth={1}
        />
        <text {...text} x={x(length / 2)} y={ground + 16} textAnchor="middle">
          {sizes.length}
        </text>
      </svg>
      <Text fontSize="14px" color="muted">
        From above, and cut along its length, to one scale.{" "}
        {solids.length > 0
          ? "Steps are drawn at the shallow end, a bench at the far one, wherever they stand."
          : ""}
      </Text>
    </Box>
  );
}
