// The year as a rail lying down: a row a kind of work, what was done solid, what comes round hollow, today a heavy notch.
import { Box, Text } from "@chakra-ui/react";
import { scaleUtc } from "d3-scale";

import { type Care } from "../../api/care";

const LABEL = 92;
const ROW = 30;
const TOP = 26;
const MONTHS = ["Jan", "Feb", "Mar", "Apr", "May", "Jun", "Jul", "Aug", "Sep", "Oct", "Nov", "Dec"];

type Props = {
  year: Care["year"];
  width: number;
  /** A day of the season to come: its word, and whether it was chosen by the person. */
  next?: { day: string; word: string } | undefined;
};

export function YearRail({ year, width, next }: Props) {
  const at = (day: string) => Date.parse(`${day}T12:00:00Z`);
  const x = scaleUtc()
    .domain([at(year.start), at(year.end)])
    .range([LABEL, width - 8]);
  const ahead = next && next.day > year.today && next.day < year.end ? next : undefined;
  const foot = ahead ? 22 : 0;
  const height = TOP + year.rows.length * ROW + 8 + foot;
  const today = x(at(year.today));
  const ticks = x.ticks(12).filter((d) => d.getUTCDate() === 1);
  return (
    <Box as="figure" m={0} overflow="hidden">
      <svg
        width={width}
        height={height}
        role="img"
        aria-label={spoken(year, ahead)}
        style={{ display: "block" }}
      >
        {year.season.length > 0 && (
          <rect
            x={LABEL}
            y={TOP - 4}
            width={width - 8 - LABEL}
            height={height - TOP - foot}
            fill="var(--chakra-colors-channel)"
          />
        )}
        {year.season.map(([from, to]) => (
          <rect
            key={from}
            x={x(at(from))}
            y={TOP - 4}
            width={Math.max(0, x(at(to)) - x(at(from)))}
            height={height - TOP - foot}
            fill="var(--chakra-colors-paper)"
          />
        ))}
        {ticks.map((d, i) => (
          <g key={d.toISOString()}>
            <line x1={x(d)} x2={x(d)} y1={TOP - 4} y2={height - 4} stroke="var(--chakra-colors-hair)" />
            {(width > 700 || i % 3 === 0) && Math.abs(x(d) + 12 - today) > 44 && (
              <text x={x(d) + 3} y={14} fontSize="14" fill="var(--chakra-colors-muted)">
                {MONTHS[d.getUTCMonth()]}
              </text>
            )}
          </g>
        ))}
        {year.rows.map((row, i) => {
          const y = TOP + i * ROW + ROW / 2;
          return (
            <g key={row.group}>
              <text
                x={0}
                y={y + 5}
                fontSize="14"
                fontWeight={row.overdue ? 700 : 400}
                fill="var(--chakra-colors-ink)"
              >
                {row.label}
              </text>
              <line
                x1={LABEL}
                x2={width - 8}
                y1={y}
                y2={y}
                stroke="var(--chakra-colors-muted)"
                strokeWidth="1"
              />
              {row.done.map((day) => (
                <line
                  key={day}
                  x1={x(at(day))}
                  x2={x(at(day))}
                  y1={y - 7}
                  y2={y + 7}
                  stroke="var(--chakra-colors-ink)"
                  strokeWidth="2"
                />
              ))}
              {row.coming.map((day) => (
                <circle
                  key={day}
                  cx={x(at(day))}
                  cy={y}
                  r="3.5"
                  fill="var(--chakra-colors-paper)"
                  stroke="var(--chakra-colors-ink)"
                  strokeWidth="1.5"
                />
              ))}
              {row.overdue && (
                <rect
                  x={today - 6}
                  y={y - 6}
                  width="12"
                  height="12"
                  fill="var(--chakra-colors-ink)"
                  stroke="var(--chakra-colors-paper)"
                />
              )}
            </g>
          );
        })}
        {ahead && (
          <>
            <line
              x1={x(at(ahead.day))}
              x2={x(at(ahead.day))}
              y1={TOP - 4}
              y2={height - 18}
              stroke="var(--chakra-colors-ink)"
              strokeWidth="2"
              strokeDasharray="5 4"
            />
            <text
              x={Math.min(x(at(ahead.day)), width - 4)}
              y={height - 4}
              fontSize="14"
              fontWeight="700"
              textAnchor={x(at(ahead.day)) > width - 60 ? "end" : "middle"}
              fill="var(--chakra-colors-ink)"
            >
              {ahead.word}
            </text>
          </>
        )}
        <line
          x1={today}
          x2={today}
          y1={TOP - 8}
          y2={height - 2 - foot}
          stroke="var(--chakra-colors-ink)"
          strokeWidth="4"
          opacity="0.9"
        />
        <text
          x={today}
          y={14}
          fontSize="14"
          fontWeight="700"
          textAnchor="middle"
          fill="var(--chakra-colors-ink)"
        >
          today
        </text>
      </svg>
      <Text as="figcaption" fontSize="14px" color="muted">
        A stroke is work done, a ring work to come, a filled square work overdue.
        {year.season.length > 0 && " Shaded: the pool is not in use."}
      </Text>
    </Box>
  );
}

/** The picture in words. */
function spoken(year: Care["year"], next: Props["next"]) {
  const rows = year.rows.map(
    (r) =>
      `${r.label}: done ${r.done.length} times, ${r.coming.length} to come${r.overdue ? ", overdue" : ""}`,
  );
  return `The year from ${year.start} to ${year.end}, today ${year.today}. ${rows.join(". ")}.${next ? ` To ${next.word} on ${next.day}.` : ""}`;
}
