// A run's free chlorine over the level it holds, and under it the rail lying down: nights, pours, now.
import { Box } from "@chakra-ui/react";
import { scaleLinear, scaleTime } from "d3-scale";

import { type Run } from "../../api/clearup";

type Curve = Run["curve"];
const PAPER = "var(--chakra-colors-paper)";
const HEIGHT = 250;
const TOP = 18;
const FLOOR = 196;
const RAIL = 222;

/** The words of the curve for who cannot see it. */
function spoken(curve: Curve) {
  const last = curve.points.at(-1);
  return `Free chlorine over the level, ${curve.level_words}; ${curve.points.length} readings and pours${
    last ? `, the last: ${last.label}` : ""
  }.`;
}

export function Curve({ curve, width }: { curve: Curve; width: number }) {
  const left = 34;
  const right = width - 8;
  const x = scaleTime([Date.parse(curve.begins), Date.parse(curve.ends)], [left, right]).clamp(true);
  const y = scaleLinear([0, curve.most_ppm], [FLOOR, TOP]);
  const at = (instant: string) => x(Date.parse(instant));
  const now = at(curve.now);
  const solid = curve.points.filter((p) => p.kind !== "doubtful");
  const line = solid
    .map((p, i) => {
      const rise = p.kind === "poured" && p.before != null ? `${at(p.at)},${y(p.before)} ` : "";
      return `${i === 0 ? "M" : "L"}${rise}${rise && i === 0 ? "L" : ""}${at(p.at)},${y(p.fc)}`;
    })
    .join("");
  const ticks = y.ticks(4);
  return (
    <Box color="ink" w="100%" maxW={`${width}px`}>
      <svg
        viewBox={`0 0 ${width} ${HEIGHT}`}
        width="100%"
        role="img"
        aria-label={spoken(curve)}
        fontSize="13"
      >
        <defs>
          <pattern
            id="night"
            width="6"
            height="6"
            patternUnits="userSpaceOnUse"
            patternTransform="rotate(45)"
          >
            <path d="M0 0V6" stroke="var(--chakra-colors-hair)" strokeWidth="2" />
          </pattern>
        </defs>
        {curve.nights.map(([from, to]) => {
          const a = at(from!);
          const b = at(to!);
          return (
            b > a && <rect key={from} x={a} width={b - a} y={TOP} height={FLOOR - TOP} fill="url(#night)" />
          );
        })}
        {ticks.map((t) => (
          <text key={t} x={left - 6} y={y(t) + 4} textAnchor="end" fill="var(--chakra-colors-muted)">
            {t}
          </text>
        ))}
        <path
          d={`M${left},${y(curve.level_ppm)}H${right}`}
          stroke="currentColor"
          strokeWidth="3"
          strokeDasharray="10 5"
        />
        <text x={left + 4} y={y(curve.level_ppm) - 7} fontWeight="700" fill="currentColor">
          {curve.level_words}
        </text>
        <path d={line} fill="none" stroke="currentColor" strokeWidth="2" strokeLinejoin="round" />
        {curve.points.map((p) => (
          <Point key={`${p.at} ${p.kind}`} point={p} x={at(p.at)} y={y} />
        ))}
        <path d={`M${left},${RAIL}H${right}`} stroke="currentColor" strokeWidth="2" />
        {curve.points
          .filter((p) => p.kind === "poured")
          .map((p) => (
            <circle key={p.at} cx={at(p.at)} cy={RAIL} r="5" fill="currentColor" />
          ))}
        {curve.points
          .filter((p) => p.kind !== "poured")
          .map((p) => (
            <rect
              key={p.at}
              x={at(p.at) - 4}
              y={RAIL - 4}
              width="8"
              height="8"
              fill={PAPER}
              stroke="currentColor"
              strokeWidth="2"
            />
          ))}
        <path d={`M${now},${TOP - 8}V${RAIL + 8}`} stroke="currentColor" strokeWidth="4" />
        {curve.days.map(([noon, name]) => {
          const mid = at(noon!);
          return (
            mid > left + 14 &&
            mid < right - 14 && (
              <text key={noon} x={mid} y={HEIGHT - 6} textAnchor="middle" fill="var(--chakra-colors-muted)">
                {name}
              </text>
            )
          );
        })}
      </svg>
    </Box>
  );
}

function Point({ point, x, y }: { point: Curve["points"][number]; x: number; y: (v: number) => number }) {
  if (point.kind === "poured") return null;
  const fc = y(point.fc);
  if (point.kind === "doubtful")
    return <path d={`M${x - 5},${fc - 5}l10,10m0,-10l-10,10`} stroke="currentColor" strokeWidth="2" />;
  return (
    <g>
      <path d={`M${x},${y(point.low ?? point.fc)}V${y(point.high ?? point.fc)}`} stroke="currentColor" />
      <circle cx={x} cy={fc} r="4.5" fill={PAPER} stroke="currentColor" strokeWidth="2" />
    </g>
  );
}
