// Why the pH and alkalinity steps are what they are: alkalinity over total carbonate, lines of equal pH, the target
// region, and each step as a vector. Every place comes from the API; this maps it to pixels.
import { Box, Text, useBreakpointValue } from "@chakra-ui/react";
import { scaleLinear } from "d3-scale";
import { useId } from "react";

import { type PlanData } from "../../api/plans";

type Map = NonNullable<PlanData["carbon_map"]>;
type Point = Map["start"];

// Drawn at the size it is shown in, so that its words stay readable on a phone.
const SIZES = { wide: { W: 680, H: 400 }, phone: { W: 306, H: 300 } };
type Size = (typeof SIZES)["wide"];
const M = { left: 48, right: 48, top: 26, bottom: 44 };
const INK = "currentColor";
const HAIR = "var(--chakra-colors-hair)";
const MUTED = "var(--chakra-colors-muted)";
const PAPER = "var(--chakra-colors-paper)";

export function CarbonMap({ map, stepKey }: { map: Map; stepKey: string }) {
  const id = useId();
  const size = useBreakpointValue({ base: SIZES.phone, md: SIZES.wide }, { ssr: false }) ?? SIZES.wide;
  const { W, H } = size;
  const x = scaleLinear([map.carbonate_low, map.carbonate_high], [M.left, W - M.right]);
  const y = scaleLinear([map.ta_low, map.ta_high], [H - M.bottom, M.top]);
  const at = (p: Point): [number, number] => [x(p.carbonate_ppm), y(p.ta_ppm)];
  const path = (points: Point[]) => `M${points.map((p) => at(p).join(" ")).join("L")}`;
  const mine = map.legs.find((leg) => leg.key === stepKey);
  return (
    <Box mt="16px" color="ink">
      <Text fontSize="14px" fontWeight={700}>
        How the way was chosen
      </Text>
      <Text fontSize="14px" color="muted" mb="4px">
        Every water is a point. Products move it along straight lines; along a thin line pH stays the same.
        The shaded channel is the target: {map.target_text}.
      </Text>
      <svg
        viewBox={`0 0 ${W} ${H}`}
        role="img"
        aria-labelledby={id}
        style={{ width: "100%", display: "block" }}
      >
        <title
          id={id}
        >{`Alkalinity over total carbonate. From ${map.start_text}; ${map.legs.map((l) => l.text).join(", then ")}; ${map.end_text}.`}</title>
        <defs>
          <clipPath id={`${id}c`}>
            <rect x={M.left} y={M.top} width={W - M.left - M.right} height={H - M.top - M.bottom} />
          </clipPath>
          <marker
            id={`${id}a`}
            viewBox="0 0 8 8"
            refX="7"
            refY="4"
            markerWidth="9"
            markerHeight="9"
            markerUnits="userSpaceOnUse"
            orient="auto"
          >
            <path d="M0 0L8 4L0 8z" fill={INK} />
          </marker>
        </defs>
        <g fontSize="12" fill={MUTED}>
          {x.ticks(W / 110).map((t) => (
            <text key={t} x={x(t)} y={H - M.bottom + 18} textAnchor="middle">
              {t}
            </text>
          ))}
          {y.ticks(5).map((t) => (
            <text key={t} x={M.left - 8} y={y(t) + 4} textAnchor="end">
              {t}
            </text>
          ))}
          <text x={W - M.right} y={H - 8} textAnchor="end">
            total carbonate, ppm as CaCO3
          </text>
          <text x={6} y={14}>
            total alkalinity, ppm
          </text>
        </g>
        <path
          d={`M${M.left} ${M.top}V${H - M.bottom}H${W - M.right}`}
          fill="none"
          stroke={INK}
          strokeWidth={1.5}
        />
        <g clipPath={`url(#${id}c)`}>
          <path d={`${path(map.target)}Z`} fill="var(--chakra-colors-channel)" />
          {map.contours.map((c) => (
            <path key={c.ph} d={path(c.points)} fill="none" stroke={HAIR} strokeWidth={1.5} />
          ))}
          <path d={path(map.target.slice(0, 2))} fill="none" stroke={INK} strokeWidth={1.5} />
          <path d={path(map.target.slice(2))} fill="none" stroke={INK} strokeWidth={1.5} />
        </g>
        {labels(map, size, x, y).map((l) => (
          <text
            key={l.ph}
            x={l.px}
            y={l.py}
            fontSize="12"
            fill={MUTED}
            textAnchor={l.top ? "middle" : "start"}
          >
            pH {l.ph.toFixed(1)}
          </text>
        ))}
        {map.legs.map((leg) => {
          const [x1, y1] = at(leg.start);
          const [x2, y2] = at(leg.end);
          return (
            <line
              key={leg.key}
              x1={x1}
              y1={y1}
              x2={x2}
              y2={y2}
              stroke={INK}
              strokeWidth={leg.key === stepKey ? 3.5 : 1.75}
              strokeDasharray={leg.balances ? undefined : "4 4"}
              markerEnd={Math.hypot(x2 - x1, y2 - y1) > 16 ? `url(#${id}a)` : undefined}
            />
          );
        })}
        <circle cx={at(map.start)[0]} cy={at(map.start)[1]} r={5} fill={PAPER} stroke={INK} strokeWidth={2} />
        <circle cx={at(map.end)[0]} cy={at(map.end)[1]} r={5.5} fill={INK} />
        <Ways map={map} size={size} id={id} />
      </svg>
      <Text fontSize="14px">
        Hollow: {map.start_text}. Solid: {map.end_text}.
        {mine ? ` The heavy arrow is this step, ${mine.text}.` : ""}{" "}
        {map.legs.some((l) => !l.balances) ? "Dashed: what the other additions do." : ""}
      </Text>
      {map.note && (
        <Text fontSize="14px" color="muted">
          {map.note}
        </Text>
      )}
      <Text fontSize="14px" color="muted">
        Picture after Deffeyes (1965), Limnology and Oceanography 10, 412.
      </Text>
    </Box>
  );
}

type Scale = (value: number) => number;

/** Where each line of equal pH leaves the picture. Those of the target first; any that would stand on another stays away. */
function labels(map: Map, { W, H }: Size, x: Scale, y: Scale) {
  const shown: { ph: number; px: number; py: number; top: boolean }[] = [];
  const first = (ph: number) => (ph === 7.2 || ph === 7.8 ? 0 : 1);
  for (const c of [...map.contours].sort((a, b) => first(a.ph) - first(b.ph))) {
    const [start, end] = [c.points[0]!, c.points[c.points.length - 1]!];
    const top = end.ta_ppm > map.ta_high;
    const share = (map.ta_high - start.ta_ppm) / (end.ta_ppm - start.ta_ppm);
    const px = top
      ? x(start.carbonate_ppm + share * (end.carbonate_ppm - start.carbonate_ppm))
      : W - M.right + 6;
    const py = top ? M.top - 6 : y(end.ta_ppm) + 4;
    const free = shown.every((l) => Math.abs(l.px - px) > 46 || Math.abs(l.py - py) > 14);
    if (free && px > M.left + 102 && py < H - M.bottom) shown.push({ ph: c.ph, px, py, top });
  }
  return shown;
}

/** Which way each product goes, drawn once in the corner. */
function Ways({ map, size: { W, H }, id }: { map: Map; size: Size; id: string }) {
  const small = W < 400;
  const cx = W - M.right - (small ? 76 : 96);
  const cy = H - M.bottom - (small ? 48 : 74);
  return (
    <g transform={`translate(${cx} ${cy})`} fontSize="12" fill={INK}>
      {map.directions.map((d) => {
        const length = (small ? 24 : 34) / Math.hypot(d.carbonate, d.alkalinity);
        const [dx, dy] = [d.carbonate * length, -d.alkalinity * length];
        return (
          <g key={d.text}>
            <line x1={0} y1={0} x2={dx} y2={dy} stroke={INK} strokeWidth={1.25} markerEnd={`url(#${id}a)`} />
            <text
              x={dx * 1.2}
              y={dy * 1.2 + (dy > 0 ? 12 : dy < -Math.abs(dx) * 1.5 ? -4 : 6)}
              textAnchor={dx < 0 ? "end" : Math.abs(dy) > 1.5 * dx ? "middle" : "start"}
            >
              {d.text}
            </text>
          </g>
        );
      })}
    </g>
  );
}
