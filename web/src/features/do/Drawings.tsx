// Our own drawings beside a guide's step: a cell's plates as one may find them, and its acid bath.
import { Box } from "@chakra-ui/react";

type Props = { draws: string; at: string };

export function Drawing({ draws, at }: Props) {
  if (draws === "plates") return <Plates />;
  if (draws === "bath") return <Bath at={at} />;
  return null;
}

const FOUND = ["bare metal", "thin film", "thick, flaky", "coating gone"] as const;
const PLATES = [14, 28, 42, 56];

/** Four cells end on, as they look against the light. */
function Plates() {
  return (
    <Box color="ink" maxW="420px" mx="auto" w="100%">
      <svg
        viewBox="0 0 400 150"
        role="img"
        width="100%"
        aria-label="Plates seen against the light: bare metal, a thin film, thick deposits, coating gone in places"
      >
        {FOUND.map((name, i) => (
          <g key={name} transform={`translate(${i * 100 + 15} 8)`}>
            <rect width="70" height="104" fill="none" stroke="currentColor" strokeWidth="2" />
            {PLATES.map((x) => (
              <g key={x}>
                <path
                  d={`M${x} 8V96`}
                  stroke="currentColor"
                  strokeWidth="4"
                  strokeDasharray={i === 3 ? "22 7 14 9 30 6" : undefined}
                />
                {i === 1 && (
                  <path d={`M${x + 4} 12V92`} stroke="currentColor" strokeWidth="2" strokeDasharray="1 4" />
                )}
              </g>
            ))}
            {i === 2 &&
              PLATES.slice(0, 3).flatMap((x, n) =>
                [18, 40, 58, 80].map((y, m) => (
                  <path
                    key={`${x} ${y}`}
                    d={`M${x + 2} ${y + ((n + m) % 3) * 4}l5 -6 5 3v10l-6 4z`}
                    fill="currentColor"
                    opacity="0.55"
                  />
                )),
              )}
            <text x="35" y="130" fontSize="15" textAnchor="middle" fill="currentColor">
              {name}
            </text>
          </g>
        ))}
      </svg>
    </Box>
  );
}

const IN_BATH = ["dip", "fizz"];
const MIXED = ["acid", "dip", "fizz", "lift", "soda"];

/** The bucket as the step leaves it: water, then acid into it, then the cell with its terminals dry. */
function Bath({ at }: { at: string }) {
  const filled = at !== "gear";
  const cell = IN_BATH.includes(at);
  const words = cell
    ? "The cell stands in the bath, the liquid over its plates and under its terminals"
    : at === "acid"
      ? "Acid is poured into the water"
      : "The bath's bucket";
  return (
    <Box color="ink" maxW="300px" mx="auto" w="100%">
      <svg viewBox="0 0 300 170" role="img" aria-label={words} width="100%">
        <path d="M70 60L84 158H196L210 60" fill="none" stroke="currentColor" strokeWidth="3" />
        {filled && (
          <path
            d="M75.5 98L84 158H196L204.500 98Z"
            fill="currentColor"
            opacity={MIXED.includes(at) ? 0.3 : 0.14}
          />
        )}
        {filled && <path d="M75 98H205" stroke="currentColor" strokeWidth="2" />}
        {(at === "acid" || at === "water" || at === "soda") && (
          <g>
            <path d="M140 12V78" stroke="currentColor" strokeWidth="3" />
            <path d="M132 68l8 14 8 -14z" fill="currentColor" />
            <text x="156" y="34" fontSize="17" fontWeight="700" fill="currentColor">
              {at === "acid" ? "acid, into water" : at === "water" ? "water first" : "baking soda"}
            </text>
          </g>
        )}
        {cell && (
          <g>
            <rect x="118" y="40" width="44" height="108" fill="none" stroke="currentColor" strokeWidth="3" />
            {[127, 136, 145, 154].map((x) => (
              <path key={x} d={`M${x} 104V142`} stroke="currentColor" strokeWidth="3" />
            ))}
            <path d="M128 40V22M140 40V18M152 40V22" stroke="currentColor" strokeWidth="4" />
            <text x="172" y="34" fontSize="17" fontWeight="700" fill="currentColor">
              terminals dry
            </text>
            <text x="216" y="104" fontSize="15" fill="currentColor">
              level
            </text>
          </g>
        )}
      </svg>
    </Box>
  );
}
