// The water's warmth through the year: what was, drawn solid; what is foretold, broken; the lines that decide, and the day.
import { Box, Text } from "@chakra-ui/react";
import { scaleLinear, scaleUtc } from "d3-scale";

import { type Season } from "../../api/seasons";
import { useWidth } from "../../lib/width";

const TOP = 26;
const HEIGHT = 220;
const FOOT = 22;
const MONTHS = ["Jan", "Feb", "Mar", "Apr", "May", "Jun", "Jul", "Aug", "Sep", "Oct", "Nov", "Dec"];
const INK = "var(--chakra-colors-ink)";
const MUTED = "var(--chakra-colors-muted)";

const at = (day: string) => Date.parse(`${day}T12:00:00Z`);

export function Warmth({ season }: { season: Season }) {
  const { box, width } = useWidth();
  return (
    <Box ref={box} minW={0}>
      {width > 0 && <Picture season={season} width={width} />}
    </Box>
  );
}

export function Picture({ season, width }: { season: Season; width: number }) {
  const { warmth, limits, today, chosen, kind } = season;
  const x = scaleUtc()
    .domain([at(warmth[0]!.day), at(warmth.at(-1)!.day)])
    .range([40, width - 8]);
  const values = [...warmth.map((w) => w.water), ...limits.map((l) => l.value)];
  const [least, most] = [Math.min(...values), Math.max(...values)];
  const y = scaleLinear()
    .domain([least - 2, most + 2])
    .range([HEIGHT - FOOT, TOP]);
  const path = (points: Season["warmth"]) =>
    points.map((w, i) => `${i ? "L" : "M"}${x(at(w.day)).toFixed(1)} ${y(w.water).toFixed(1)}`).join("");
  const known = warmth.filter((w) => w.how !== "last_year");
  const like = warmth.filter((w) => w.how === "last_year" || w.day === known.at(-1)?.day);
  const ticks = x.ticks(12).filter((d) => d.getUTCDate() === 1);
  const word = kind === "opening" ? "open" : "close";
  return (
    <Box as="figure" m={0}>
      <svg
        width={width}
        height={HEIGHT + 20}
        role="img"
        aria-label={spoken(season)}
        style={{ display: "block" }}
      >
        {ticks.map((d, i) => (
          <g key={d.toISOString()}>
            <line x1={x(d)} x2={x(d)} y1={TOP} y2={HEIGHT - FOOT} stroke="var(--chakra-colors-hair)" />
            {(width > 700 || i % 2 === 0) && (
              <text x={x(d) + 3} y={HEIGHT - 6} fontSize="14" fill={MUTED}>
                {MONTHS[d.getUTCMonth()]}
              </text>
            )}
          </g>
        ))}
        {limits.map((l) => (
          <g key={l.label}>
            <line x1={36} x2={width - 8} y1={y(l.value)} y2={y(l.value)} stroke={MUTED} strokeWidth="1" />
            <text x={0} y={y(l.value) + 5} fontSize="14" fill={INK}>
              {Math.round(l.value)}°
            </text>
            {width > 700 && (
              <text
                x={width - 10}
                y={y(l.value) - 4}
                fontSize="14"
                textAnchor="end"
                fill={MUTED}
                stroke="var(--chakra-colors-paper)"
                strokeWidth="4"
                paintOrder="stroke"
              >
                {l.label}
              </text>
            )}
          </g>
        ))}
        <path d={path(like)} fill="none" stroke={INK} strokeWidth="2" strokeDasharray="2 5" />
        <path d={path(known)} fill="none" stroke={INK} strokeWidth="2.5" />
        {known
          .filter((w) => w.how === "read")
          .map((w) => (
            <circle
              key={w.day}
              cx={x(at(w.day))}
              cy={y(w.water)}
              r="3"
              fill="var(--chakra-colors-paper)"
              stroke={INK}
              strokeWidth="1.5"
            />
          ))}
        <line
          x1={x(at(today))}
          x2={x(at(today))}
          y1={TOP - 6}
          y2={HEIGHT - FOOT}
          stroke={INK}
          strokeWidth="4"
        />
        <text x={x(at(today))} y={14} fontSize="14" fontWeight="700" textAnchor="middle" fill={INK}>
          today
        </text>
        {chosen && at(chosen) <= at(warmth.at(-1)!.day) && (
          <>
            <line
              x1={x(at(chosen))}
              x2={x(at(chosen))}
              y1={TOP - 6}
              y2={HEIGHT - FOOT}
              stroke={INK}
              strokeWidth="2"
              strokeDasharray="5 4"
            />
            <text
              x={x(at(chosen)) + (Math.abs(x(at(chosen)) - x(at(today))) < 60 ? 40 : 0)}
              y={14}
              fontSize="14"
              fontWeight="700"
              textAnchor="middle"
              fill={INK}
            >
              {word}
            </text>
          </>
        )}
      </svg>
      <Text as="figcaption" fontSize="14px" color="muted">
        The water, by the week: as it was, from readings (rings) and the weather; dotted, as last year&apos;s
        weather would have it.
      </Text>
    </Box>
  );
}

/** The picture in words. */
function spoken({ warmth, today, chosen, kind, limits }: Season) {
  const now = warmth.find((w) => w.day === today);
  const lines = limits.map((l) => `${Math.round(l.value)}°, ${l.label}`).join("; ");
  const day = chosen ? ` To ${kind === "opening" ? "open" : "close"} on ${chosen}.` : "";
  return `The water's warmth from ${warmth[0]!.day} to ${warmth.at(-1)!.day}; today ${Math.round(now?.water ?? 0)}°. Lines at ${lines}.${day}`;
}
