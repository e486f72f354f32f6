// A measure's band as an open channel on a thin scale; hollow mark before, whisker, arrow, solid mark after.
// Every number comes from the API; this only maps it to pixels.
import { useId } from "react";

import "./pictures.css";

import { type SlotData } from "../api/plans";
import { along } from "../lib/scale";

const W = 340;
const Y = 12;

/** `bare` leaves the words to what stands above it. */
export function Slot({ slot, bare }: { slot: SlotData; bare?: boolean }) {
  const id = useId();
  const x = along(slot.scale_low, slot.scale_high, 8, W - 8);
  const before = x(slot.before);
  const after = slot.after === null ? null : x(slot.after);
  const left = x(slot.band_low ?? slot.scale_low);
  const right = x(slot.band_high ?? slot.scale_high);
  const way = after !== null && after > before ? 1 : -1;
  const showArrow = after !== null && Math.abs(after - before) > 16;
  const banded = slot.band_low !== null || slot.band_high !== null;
  return (
    <div className="slot">
      {!bare && (
        <div className="slot-head">
          <span>{slot.label}</span>
          <b>{slot.text}</b>
        </div>
      )}
      <svg viewBox={`0 0 ${W} 24`} role="img" aria-labelledby={id}>
        <title id={id}>{`${slot.label} ${slot.text}`}</title>
        <line x1={0} x2={W} y1={Y} y2={Y} stroke="var(--chakra-colors-hair)" strokeWidth={2} />
        {banded && (
          <path
            d={`M${left} ${Y + 3}V${Y + 8}H${right}V${Y + 3}M${left} ${Y - 3}V${Y - 8}H${right}V${Y - 3}`}
            fill="none"
            stroke="currentColor"
            strokeWidth={1.5}
          />
        )}
        {slot.u95 > 0 && (
          <line
            x1={x(slot.before - slot.u95)}
            x2={x(slot.before + slot.u95)}
            y1={Y}
            y2={Y}
            stroke="var(--chakra-colors-muted)"
            strokeWidth={4}
            opacity={0.6}
          />
        )}
        {showArrow && (
          <path
            d={`M${before + way * 7} ${Y}H${after! - way * 7}m${-way * 6} -4l${way * 6} 4l${-way * 6} 4`}
            fill="none"
            stroke="currentColor"
            strokeWidth={2}
          />
        )}
        <circle
          cx={before}
          cy={Y}
          r={5}
          fill="var(--chakra-colors-paper)"
          stroke="currentColor"
          strokeWidth={2}
        />
        {slot.spent != null && (
          <line
            x1={x(slot.spent)}
            x2={x(slot.spent)}
            y1={Y - 8}
            y2={Y + 8}
            stroke="currentColor"
            strokeWidth={3}
          />
        )}
        {after !== null && (
          <circle cy={Y} r={5.5} fill="currentColor" cx={after} style={{ transition: "cx 160ms ease-out" }} />
        )}
      </svg>
    </div>
  );
}
