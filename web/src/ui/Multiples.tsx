// Small multiples on one time axis. Numbers, bands and scales come from the API; this maps them to pixels and moves the window.
import { Box } from "@chakra-ui/react";
import { scaleLinear } from "d3-scale";
import { useEffect, useRef, useState } from "react";

import { type Schemas } from "../api/client";

// Pixels that a mark's line and a reading want for themselves.
const [LINE_ROOM, POINT_ROOM] = [10, 8];

type Series = Schemas["Series"];
type Sample = Schemas["Sample"];
type Window = [number, number];
type Props = {
  series: Series[];
  marks: Schemas["Mark"][];
  window: Window;
  setWindow: (w: Window) => void;
  zone: string;
  now?: string;
};
const ROW = 92;
const LEFT = 150;
const RIGHT = 56;
const HOUR = 3_600_000;
const LEAST = 6 * HOUR;
const MOST = 60 * 366 * 24 * HOUR;
const ms = (text: string) => new Date(text).getTime();

export function Multiples({ series, marks, window: [from, to], setWindow, zone, now }: Props) {
  const box = useRef<HTMLDivElement>(null);
  const [width, setWidth] = useState(1100);
  const pointers = useRef(new Map<number, number>());
  useEffect(() => {
    const watch = new ResizeObserver(([entry]) => setWidth(entry!.contentRect.width));
    watch.observe(box.current!);
    return () => watch.disconnect();
  }, []);
  const narrow = width < 600;
  const left = narrow ? 8 : LEFT;
  const right = narrow ? 34 : RIGHT;
  const x = scaleLinear([from, to], [left, width - right]);
  const perPixel = (to - from) / Math.max(1, width - right - left);
  function zoom(factor: number, at: number) {
    const span = Math.min(MOST, Math.max(LEAST, (to - from) * factor));
    const share = (at - from) / (to - from);
    setWindow([at - span * share, at + span * (1 - share)]);
  }
  const pan = (by: number) => setWindow([from + by, to + by]);
  // Wheel must be able to keep the page from scrolling: React listens passively.
  useEffect(() => {
    const el = box.current!;
    const onWheel = (e: WheelEvent) => {
      if (
        !e.ctrlKey &&
        Math.abs(e.deltaY) > Math.abs(e.deltaX) &&
        !e.shiftKey &&
        !e.altKey &&
        document.activeElement !== el
      )
        return; // the page scrolls, unless the graphs have the focus
      e.preventDefault();
      if (e.shiftKey || Math.abs(e.deltaX) > Math.abs(e.deltaY)) pan((e.deltaX || e.deltaY) * perPixel);
      else zoom(Math.exp(e.deltaY * 0.002), x.invert(e.clientX - el.getBoundingClientRect().left));
    };
    el.addEventListener("wheel", onWheel, { passive: false });
    return () => el.removeEventListener("wheel", onWheel);
  });
  function onMove(e: React.PointerEvent) {
    const was = pointers.current.get(e.pointerId);
    if (was === undefined) return;
    const others = [...pointers.current].filter(([id]) => id !== e.pointerId).map(([, at]) => at);
    pointers.current.set(e.pointerId, e.clientX);
    if (others.length === 0) pan((was - e.clientX) * perPixel);
    else {
      const [before, after] = [Math.abs(was - others[0]!), Math.abs(e.clientX - others[0]!)];
      if (before > 8 && after > 8)
        zoom(before / after, x.invert(others[0]! - box.current!.getBoundingClientRect().left));
    }
  }
  function onKey(e: React.KeyboardEvent) {
    const span = to - from;
    const moves: Record<string, () => void> = {
      ArrowLeft: () => pan(-span * 0.2),
      ArrowRight: () => pan(span * 0.2),
      "+": () => zoom(0.6, (from + to) / 2),
      "=": () => zoom(0.6, (from + to) / 2),
      "-": () => zoom(1.6, (from + to) / 2),
    };
    if (!moves[e.key]) return;
    e.preventDefault();
    moves[e.key]!();
  }
  const drop = (e: React.PointerEvent) => pointers.current.delete(e.pointerId);
  const head = narrow ? 22 : 0;
  const height = series.length * (ROW + head) + 44;
  const shownMarks = marks.filter((m) => ms(m.at) >= from && ms(m.at) <= to);
  // Closer than this, lines through the graphs would cover them: the marks at the axis are enough.
  const lined = shownMarks.length * LINE_ROOM <= width - left - right;
  return (
    <Box
      ref={box}
      tabIndex={0}
      role="group"
      aria-label="Graphs: arrows move in time, plus and minus zoom"
      style={{ touchAction: "pan-y" }}
      userSelect="none"
      color="ink"
      cursor="grab"
      onKeyDown={onKey}
      onPointerDown={(e) => {
        pointers.current.set(e.pointerId, e.clientX);
        e.currentTarget.setPointerCapture(e.pointerId);
      }}
      onPointerMove={onMove}
      onPointerUp={drop}
      onPointerCancel={drop}
    >
      <svg width={width} height={height} style={{ display: "block" }}>
        <defs>
          <pattern
            id="to-come"
            width="5"
            height="5"
            patternUnits="userSpaceOnUse"
            patternTransform="rotate(45)"
          >
            <rect width="5" height="5" fill="var(--chakra-colors-muted)" opacity={0.1} />
            <line x1="0" x2="0" y1="0" y2="5" stroke="var(--chakra-colors-muted)" strokeWidth={1.6} />
          </pattern>
          <clipPath id="graph-window">
            <rect x={left - 6} y={0} width={Math.max(0, width - right - left + 12)} height={height} />
          </clipPath>
        </defs>
        <g clipPath="url(#graph-window)">
          {(lined ? shownMarks : []).map((m, i) => (
            <line
              key={i}
              x1={x(ms(m.at))}
              x2={x(ms(m.at))}
              y1={0}
              y2={height - 34}
              stroke="var(--chakra-colors-hair)"
              strokeWidth={m.kind === "dose" ? 2 : 1}
              strokeDasharray={m.kind === "dose" ? undefined : "2 4"}
            >
              <title>{m.title}</title>
            </line>
          ))}
        </g>
        {now && ms(now) > from && ms(now) < to && (
          <g>
            <line
              x1={x(ms(now))}
              x2={x(ms(now))}
              y1={0}
              y2={height - 34}
              stroke="currentColor"
              strokeWidth={1.5}
            />
            <path d={`M${x(ms(now))} ${height - 34}m-5 0h10v-5h-10z`} fill="currentColor">
              <title>Now</title>
            </path>
          </g>
        )}
        {series.map((s, i) => (
          <Row
            key={s.measure}
            s={s}
            top={i * (ROW + head) + head}
            x={x}
            left={left}
            right={width - right}
            narrow={narrow}
          />
        ))}
        <Axis from={from} to={to} x={x} y={height - 30} zone={zone} room={width - left - right} />
        <g clipPath="url(#graph-window)">
          {shownMarks.map((m, i) => (
            <path
              key={i}
              d={`M${x(ms(m.at))} ${height - 34}l-4 -7h8z`}
              fill={m.kind === "dose" ? "currentColor" : "var(--chakra-colors-paper)"}
              stroke="currentColor"
              strokeWidth={1.5}
            >
              <title>{m.title}</title>
            </path>
          ))}
        </g>
      </svg>
    </Box>
  );
}

type RowProps = {
  s: Series;
  top: number;
  x: (t: number) => number;
  left: number;
  right: number;
  narrow: boolean;
};

function Row({ s, top, x, left, right, narrow }: RowProps) {
  const y = scaleLinear([s.scale_low, s.scale_high], [top + ROW - 12, top + 6]);
  const [bandTop, bandBottom] = [y(s.band_high ?? s.scale_high), y(s.band_low ?? s.scale_low)];
  const banded = s.band_low !== null || s.band_high !== null;
  // Many readings are drawn small and without whiskers, so that their course stays visible.
  const dense = s.readings.length * POINT_ROOM > right - left;
  const at = (e: Sample, value: number) => `${x(ms(e.at)).toFixed(1)} ${y(value).toFixed(1)}`;
  const lineOf = (run: Sample[], of: "value" | "high") => `M${run.map((e) => at(e, e[of])).join("L")}`;
  // Each run of the estimate by itself: it is not drawn through a winter without a test.
  const areaOf = (runs: Sample[][]) =>
    runs
      .filter((run) => run.length > 1)
      .map(
        (run) =>
          `${lineOf(run, "high")}${[...run]
            .reverse()
            .map((e) => `L${at(e, e.low)}`)
            .join("")}Z`,
      )
      .join("");
  const area = areaOf(s.estimate);
  const line = s.estimate.map((run) => lineOf(run, "value")).join("");
  const coming = areaOf(s.ahead.length > 1 ? [s.ahead] : []);
  const last = s.readings[s.readings.length - 1];
  const text = (v: number) =>
    v.toLocaleString("en", { minimumFractionDigits: s.decimals, maximumFractionDigits: s.decimals });
  return (
    <g>
      <line x1={left} x2={right} y1={top + ROW - 2} y2={top + ROW - 2} stroke="var(--chakra-colors-hair)" />
      <text
        x={narrow ? left : 0}
        y={narrow ? top - 6 : top + 24}
        fontSize={narrow ? 14 : 16}
        fontWeight={700}
        fill="currentColor"
      >
        {s.label}
      </text>
      {!narrow && (
        <text x={0} y={top + 44} fontSize={14} fill="var(--chakra-colors-muted)">
          {last ? `${text(last.value)} ${s.unit}` : s.unit}
        </text>
      )}
      <g clipPath="url(#graph-window)">
        {banded && (
          <rect
            x={left - 6}
            width={right - left + 12}
            y={bandTop}
            height={Math.max(0, bandBottom - bandTop)}
            fill="var(--chakra-colors-channel)"
          />
        )}
        {[s.band_high, s.band_low].map(
          (v) =>
            v !== null && (
              <line
                key={v}
                x1={left - 6}
                x2={right + 6}
                y1={y(v)}
                y2={y(v)}
                stroke="currentColor"
                strokeWidth={1.2}
              />
            ),
        )}
        {area && <path d={area} fill="var(--chakra-colors-muted)" opacity={0.28} />}
        {line && <path d={line} fill="none" stroke="var(--chakra-colors-muted)" strokeWidth={1.5} />}
        {coming && (
          <g>
            <title>{`${s.label} to come, four in five within`}</title>
            <path d={coming} fill="url(#to-come)" />
            <path
              d={lineOf(s.ahead, "value")}
              fill="none"
              stroke="currentColor"
              strokeWidth={1.5}
              strokeDasharray="5 4"
            />
          </g>
        )}
        {s.out.map((o) => (
          <line
            key={o.start}
            x1={x(ms(o.start))}
            x2={x(ms(o.end))}
            y1={top + ROW - 5}
            y2={top + ROW - 5}
            stroke="currentColor"
            strokeWidth={5}
          />
        ))}
        {s.readings.map((r) => (
          <g key={r.at}>
            {!dense && (
              <line
                x1={x(ms(r.at))}
                x2={x(ms(r.at))}
                y1={y(r.low)}
                y2={y(r.high)}
                stroke="currentColor"
                strokeWidth={1}
                opacity={0.7}
              />
            )}
            <circle
              cx={x(ms(r.at))}
              cy={y(r.value)}
              r={dense ? 1.6 : 4}
              fill={r.level === "act" ? "currentColor" : "var(--chakra-colors-paper)"}
              stroke="currentColor"
              strokeWidth={dense ? 0.8 : 1.8}
            >
              <title>{`${s.label} ${text(r.value)} ${s.unit}, ${r.method}`}</title>
            </circle>
          </g>
        ))}
      </g>
      {s.band_high !== null && (
        <text
          x={right + 8}
          y={y(s.band_high) + 4}
          fontSize={narrow ? 12 : 14}
          fill="var(--chakra-colors-muted)"
        >
          {s.band_high.toLocaleString("en", { maximumFractionDigits: 1 })}
        </text>
      )}
      {s.band_low !== null && Math.abs(bandBottom - bandTop) > 14 && (
        <text
          x={right + 8}
          y={y(s.band_low) + 4}
          fontSize={narrow ? 12 : 14}
          fill="var(--chakra-colors-muted)"
        >
          {s.band_low.toLocaleString("en", { maximumFractionDigits: 1 })}
        </text>
      )}
    </g>
  );
}

const STEPS = [1, 2, 4, 7, 14, 30.4, 61, 91, 182, 365.25, 730, 1826, 3652].map((d) => d * 24 * HOUR);

function Axis({
  from,
  to,
  x,
  y,
  zone,
  room,
}: {
  from: number;
  to: number;
  x: (t: number) => number;
  y: number;
  zone: string;
  room: number;
}) {
  const step = STEPS.find((s) => ((to - from) / s) * 84 < room) ?? STEPS[STEPS.length - 1]!;
  const years = step >= 300 * 24 * HOUR;
  const form = new Intl.DateTimeFormat(
    "en",
    years
      ? { year: "numeric", timeZone: zone }
      : step >= 28 * 24 * HOUR
        ? { month: "short", year: "2-digit", timeZone: zone }
        : { day: "numeric", month: "short", timeZone: zone },
  );
  const ticks = [];
  for (let t = Math.ceil(from / step) * step; t <= to; t += step) ticks.push(t);
  return (
    <g fontSize={14} fill="currentColor">
      {ticks.map((t) => (
        <g key={t}>
          <line x1={x(t)} x2={x(t)} y1={y - 4} y2={y + 2} stroke="currentColor" />
          <text x={x(t)} y={y + 18} textAnchor="middle">
            {form.format(t)}
          </text>
        </g>
      ))}
    </g>
  );
}
