// Small drawings of the guided look: a pool cut open, and what one would see. Drawn by us; the words beside them say it too.
import type { ReactNode } from "react";

const POOL = "M4 14V40H14L34 52H60V14";

const HERE: Record<string, ReactNode> = {
  "where:water": <path d="M6 18h52v6H6zM6 30h52v5H6zM20 42h38v4H20z" opacity=".55" />,
  "where:walls": <path d="M4 16h5v24H4zM55 16h5v36h-5zM14 40l20 12-2 3-20-12z" />,
  "where:spots": (
    <>
      {[
        [7, 24],
        [57, 30],
        [24, 45],
        [46, 50],
      ].map(([x, y]) => (
        <circle key={x} cx={x} cy={y} r="3.4" />
      ))}
    </>
  ),
  "where:floor": <path d="M14 36l20 12h26v6H33L12 41z" />,
  "where:surface": <path d="M6 16h52v4H6z" />,
  "brush:easy": (
    <>
      <path d="M44 12v18h-8z" />
      <circle cx="24" cy="28" r="8" opacity=".5" />
      <circle cx="14" cy="22" r="5" opacity=".4" />
      <circle cx="30" cy="40" r="5" opacity=".4" />
    </>
  ),
  "brush:sinks": (
    <>
      <path d="M44 12v18h-8z" />
      {[20, 26, 32, 38].map((x, i) => (
        <circle key={x} cx={x} cy={44 + (i % 2) * 4} r="2.2" />
      ))}
    </>
  ),
  "brush:hard": (
    <>
      <path d="M44 12v18h-8z" />
      <circle cx="54" cy="34" r="5" />
      <path d="M50 44l8 8M58 44l-8 8" stroke="currentColor" strokeWidth="2" />
    </>
  ),
  "brush:none": <path d="M44 12v18h-8z" />,
  "light:shade": <path d="M34 14h26v38H34z" opacity=".35" />,
  "light:sun": <circle cx="18" cy="8" r="5" />,
  "light:both": (
    <>
      <circle cx="18" cy="8" r="5" />
      <path d="M34 14h26v38H34z" opacity=".35" />
    </>
  ),
  "clear:clear": <path d="M10 22l34 24M20 20l34 24" stroke="currentColor" strokeWidth="1.5" opacity=".6" />,
  "clear:dull": <path d="M6 18h52v32H34L14 39H6z" opacity=".5" />,
  "severity:tint": <path d="M6 18h52v32H34L14 39H6z" opacity=".22" />,
  "severity:steps": (
    <>
      <path d="M6 18h52v32H34L14 39H6z" opacity=".5" />
      <path d="M4 20h10v6h8v6h8" fill="none" stroke="var(--chakra-colors-paper)" strokeWidth="2.5" />
    </>
  ),
  "severity:hidden": <path d="M6 18h52v32H34L14 39H6z" opacity=".9" />,
};

/** The drawing of an answer, if there is one. */
export function Picture({ of }: { of: string }) {
  const inside = HERE[of];
  if (!inside) return null;
  return (
    <svg viewBox="0 0 64 58" width="52" height="47" aria-hidden fill="currentColor">
      {inside}
      <path d={POOL} fill="none" stroke="currentColor" strokeWidth="2" />
      <path d="M2 16h60" stroke="currentColor" strokeWidth="1" strokeDasharray="3 3" />
    </svg>
  );
}
