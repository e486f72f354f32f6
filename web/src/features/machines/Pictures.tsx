// The machines' pictures: setting against hours, pressures between clean and due, a day of pumping. Our own SVG.
import { Box } from "@chakra-ui/react";
import { scaleLinear, scaleUtc } from "d3-scale";
import { type PropsWithChildren } from "react";

import { type Chlorinator, type Circulation, type Filter } from "../../api/machines";

const HAIR = "var(--chakra-colors-hair)";
const MUTED = "var(--chakra-colors-muted)";
const PAPER = "var(--chakra-colors-paper)";

type XY = [x: number, y: number];
const path = (points: XY[]) => points.map(([x, y], i) => `${i ? "L" : "M"}${x} ${y}`).join("");

type Sized<T> = T & { width: number };

/** A picture that says in words what it shows. */
function Figure({
  width,
  height,
  says,
  children,
}: Sized<PropsWithChildren<{ height: number; says: string }>>) {
  return (
    <Box as="figure" m={0} color="ink">
      <svg
        width={width}
        height={height}
        viewBox={`0 0 ${width} ${height}`}
        role="img"
        aria-label={says}
        style={{ display: "block", maxWidth: "100%" }}
      >
        {children}
      </svg>
    </Box>
  );
}

/** Every pair of hours and setting that makes the demand; hollow where it stands, solid where it should. */
export function TradeOff({ cell, width }: Sized<{ cell: Chlorinator }>) {
  const height = 250;
  const [left, top, foot] = [46, 26, 40];
  const x = scaleLinear([4, 24], [left, width - 14]);
  const y = scaleLinear([0, 100], [height - foot, top]).clamp(true);
  const points = cell.points.filter((p) => p.hours >= 4);
  const reached = points.filter((p) => p.percent <= 100.5);
  const high = points.map((p): XY => [x(p.hours), y(Math.min(100, p.high))]);
  const low = points.map((p): XY => [x(p.hours), y(p.low)]);
  const band = `${path(high)}${path(low.reverse()).replace("M", "L")}Z`;
  const way = path(reached.map((p): XY => [x(p.hours), y(p.percent)]));
  const { now, advised } = cell;
  const words = [
    now && `now ${now.percent} % for ${now.hours} h`,
    advised && `advised ${advised.percent} % for ${advised.hours} h`,
  ].filter(Boolean);
  return (
    <Figure width={width} height={height} says={`Setting against hours: ${words.join(", ")}`}>
      <text x={0} y={14} fontSize="14" fill={MUTED}>
        setting, % · {cell.picture}
      </text>
      {[0, 25, 50, 75, 100].map((v) => (
        <g key={v}>
          <line x1={left} x2={width - 14} y1={y(v)} y2={y(v)} stroke={HAIR} />
          <text x={left - 8} y={y(v) + 5} fontSize="14" textAnchor="end" fill={MUTED}>
            {v}
          </text>
        </g>
      ))}
      {[4, 8, 12, 16, 20, 24].map((v) => (
        <text key={v} x={x(v)} y={height - 20} fontSize="14" textAnchor="middle" fill={MUTED}>
          {v}
        </text>
      ))}
      <text x={width - 14} y={height - 3} fontSize="14" textAnchor="end" fill={MUTED}>
        hours a day
      </text>
      {cell.least_hours !== null && cell.least_hours > 4 && (
        <g>
          <line
            x1={x(Math.min(24, cell.least_hours))}
            x2={x(Math.min(24, cell.least_hours))}
            y1={top}
            y2={height - foot}
            stroke="currentColor"
            strokeDasharray="3 4"
          />
          <text x={x(Math.min(24, cell.least_hours)) + 6} y={top + 12} fontSize="14" fill={MUTED}>
            one turnover
          </text>
        </g>
      )}
      <path d={band} fill={MUTED} opacity={0.22} />
      <path d={way} fill="none" stroke="currentColor" strokeWidth={2.5} />
      {advised && (
        <g transform={`translate(${x(advised.hours)} ${y(advised.percent)})`}>
          <circle r={7} fill="currentColor" />
          <text x={12} y={advised.percent > 85 ? 20 : -8} fontSize="16" fontWeight={700} fill="currentColor">
            {advised.percent} %
          </text>
        </g>
      )}
      {now && now.hours >= 4 && (
        <g transform={`translate(${x(now.hours)} ${y(now.percent)})`}>
          <circle r={7} fill={PAPER} stroke="currentColor" strokeWidth={2.5} />
          {(!advised ||
            Math.abs(y(now.percent) - y(advised.percent)) > 22 ||
            Math.abs(x(now.hours) - x(advised.hours)) > 70) && (
            <text x={-12} y={18} fontSize="14" textAnchor="end" fill="currentColor">
              now {now.percent} %
            </text>
          )}
        </g>
      )}
    </Figure>
  );
}

/** The gauge through time between its clean pressure and where cleaning is due. */
export function Pressures({ filter, width }: Sized<{ filter: Filter }>) {
  const height = 190;
  const [left, top, foot, right] = [8, 24, 28, 72];
  const times = filter.gauges.map((g) => Date.parse(g.at));
  const values = filter.gauges.map((g) => g.value);
  const x = scaleUtc()
    .domain([Math.min(...times), Math.max(...times)])
    .range([left + 6, width - right - 6]);
  const high = Math.max(...values, filter.due_at ?? 0) * 1.08;
  const low = Math.min(...values, filter.clean ?? Infinity) * 0.9;
  const y = scaleLinear([low, high], [height - foot, top]);
  const ticks = x.ticks(width > 400 ? 5 : 3);
  const stood = path(filter.gauges.map((g): XY => [x(Date.parse(g.at)), y(g.value)]));
  return (
    <Figure width={width} height={height} says={`The gauge through time, ${filter.gauges.length} readings`}>
      {filter.clean !== null && filter.due_at !== null && (
        <g>
          {[
            [filter.clean, "clean"],
            [filter.due_at, "due"],
          ].map(([v, word]) => (
            <g key={word}>
              <line x1={left} x2={width - right} y1={y(+v!)} y2={y(+v!)} stroke={MUTED} />
              <text x={width - right + 8} y={y(+v!) + 5} fontSize="14" fill="currentColor">
                {word} {v}
              </text>
            </g>
          ))}
        </g>
      )}
      <text x={0} y={14} fontSize="14" fill={MUTED}>
        gauge, {filter.unit}
      </text>
      {ticks.map((d) => (
        <text key={d.toISOString()} x={x(d)} y={height - 6} fontSize="14" textAnchor="middle" fill={MUTED}>
          {d.toLocaleDateString("en", { month: "short", day: "numeric", timeZone: "UTC" })}
        </text>
      ))}
      <path d={stood} fill="none" stroke={MUTED} strokeWidth={1.5} />
      {filter.gauges.map((g, i) => (
        <circle
          key={i}
          cx={x(Date.parse(g.at))}
          cy={y(g.value)}
          r={4.5}
          fill={g.cleaned ? PAPER : "currentColor"}
          stroke="currentColor"
          strokeWidth={2}
        />
      ))}
    </Figure>
  );
}

const HOURS = [0, 6, 12, 18, 24];

/** What each asks for along the hours, with how long it runs now; and a day of it, lying. */
export function Day({ moves, width }: Sized<{ moves: Circulation }>) {
  const row = 30;
  const left = 118;
  const x = scaleLinear([0, 24], [left, width - 14]);
  const asks = moves.asks;
  const end = 24 + asks.length * row;
  const height = end + 96;
  const words = moves.runs.map((r) => r.text).join(" and ");
  return (
    <Figure
      width={width}
      height={height}
      says={`Hours asked for: ${asks.map((a) => `${a.school} ${a.hours}`).join(", ")}. Run it ${words}`}
    >
      <text x={0} y={14} fontSize="14" fill={MUTED}>
        hours asked for
      </text>
      {asks.map((a, i) => (
        <g key={a.school} transform={`translate(0 ${24 + i * row})`}>
          <text x={0} y={19} fontSize="14" fill="currentColor">
            {a.school}
          </text>
          <path d={`M${x(0)} 14H${x(a.hours)}`} stroke="currentColor" strokeWidth={a.met ? 2 : 4} />
          <text x={x(a.hours) + 8} y={19} fontSize="14" fontWeight={a.met ? 400 : 700} fill="currentColor">
            {a.hours}
          </text>
        </g>
      ))}
      {moves.hours_now !== null && (
        <g>
          <path d={`M${x(moves.hours_now)} 22V${end}`} stroke="currentColor" strokeDasharray="3 4" />
          <text
            x={x(moves.hours_now)}
            y={14}
            fontSize="14"
            textAnchor="middle"
            fontWeight={700}
            fill="currentColor"
          >
            now {moves.hours_now}
          </text>
        </g>
      )}
      <g transform={`translate(0 ${end + 26})`}>
        <text x={0} y={22} fontSize="14" fill="currentColor">
          A day of it
        </text>
        <rect x={x(0)} y={4} width={x(24) - x(0)} height={26} fill="none" stroke={HAIR} strokeWidth={2} />
        {moves.runs.map((r) =>
          (r.end > r.start
            ? [[r.start, r.end]]
            : [
                [r.start, 24],
                [0, r.end],
              ]
          ).map(([from, to]) => (
            <rect key={from} x={x(from!)} y={4} width={x(to!) - x(from!)} height={26} fill="currentColor" />
          )),
        )}
        {HOURS.map((h) => (
          <text key={h} x={x(h)} y={48} fontSize="14" textAnchor="middle" fill={MUTED}>
            {h}
          </text>
        ))}
        <text x={x(0)} y={68} fontSize="14" fill="currentColor">
          {moves.runs.map((r) => r.text).join(", ")}
        </text>
      </g>
    </Figure>
  );
}
