// The pad once a step is done, drawn: where the valve points and whether the pump runs. Positions come from the API.
import { Box } from "@chakra-ui/react";

const PORTS: Record<string, { angle: number; name: string }> = {
  filter: { angle: -50, name: "filter" },
  backwash: { angle: 0, name: "backwash" },
  rinse: { angle: 50, name: "rinse" },
};

type Props = { valve: string; pump: boolean; kind: string };

/** A multiport from above, a push-pull from the side, or the pump alone. */
export function Pad({ valve, pump, kind }: Props) {
  const words = `${kind ? `Valve at ${valve}, ` : ""}pump ${pump ? "on" : "off"}`;
  return (
    <Box color="ink" maxW="320px" mx="auto" w="100%">
      <svg viewBox={kind ? "0 0 320 214" : "0 0 320 70"} role="img" aria-label={words} width="100%">
        {kind === "multiport" && <Dial valve={valve} />}
        {kind === "push_pull" && <Plunger up={valve === "backwash"} />}
        <g transform={`translate(160 ${kind ? 186 : 36})`}>
          <rect x="-92" y="-24" width="184" height="48" fill="none" stroke="currentColor" strokeWidth="2" />
          <circle
            cx="-62"
            r="13"
            fill={pump ? "currentColor" : "none"}
            stroke="currentColor"
            strokeWidth="3"
          />
          {!pump && <path d="M-71 9l18-18" stroke="currentColor" strokeWidth="3" />}
          <text x="-34" y="6" fontSize="18" fontWeight="700" fill="currentColor">
            pump {pump ? "on" : "off"}
          </text>
        </g>
      </svg>
    </Box>
  );
}

function Dial({ valve }: { valve: string }) {
  return (
    <g transform="translate(160 122)">
      <path d="M-92 -20A94 94 0 0 1 92 -20" fill="none" stroke="currentColor" strokeWidth="2" />
      {Object.entries(PORTS).map(([id, { angle, name }]) => (
        <g key={id} transform={`rotate(${angle})`}>
          <path d="M0 -88v-12" stroke="currentColor" strokeWidth={id === valve ? 6 : 2} />
          <text
            y="-106"
            textAnchor={angle < 0 ? "end" : angle > 0 ? "start" : "middle"}
            fontSize="16"
            fontWeight={id === valve ? 800 : 400}
            fill="currentColor"
            transform={`rotate(${-angle} 0 -106)`}
          >
            {name}
          </text>
        </g>
      ))}
      <g className="pad-handle" style={{ transform: `rotate(${PORTS[valve]?.angle ?? 0}deg)` }}>
        <path d="M-11 14L-6 -82h12L11 14z" fill="currentColor" />
      </g>
      <circle r="20" fill="var(--chakra-colors-paper)" stroke="currentColor" strokeWidth="3" />
    </g>
  );
}

/** A push-pull valve: its handle stands up for backwash, down for the filter. */
function Plunger({ up }: { up: boolean }) {
  const top = up ? 30 : 74;
  return (
    <g>
      <rect x="134" y="92" width="52" height="52" fill="none" stroke="currentColor" strokeWidth="3" />
      <path d={`M160 ${top}V118`} stroke="currentColor" strokeWidth="8" />
      <path d={`M128 ${top}h64`} stroke="currentColor" strokeWidth="12" />
      {[
        { y: 36, word: "backwash", here: up },
        { y: 80, word: "filter", here: !up },
      ].map(({ y, word, here }) => (
        <text key={word} x="206" y={y} fontSize="16" fontWeight={here ? 800 : 400} fill="currentColor">
          {word}
        </text>
      ))}
    </g>
  );
}
