// State of the water by a word and a shape, never by colour alone: ring fine, half ring watch, solid act.
import { Box, chakra } from "@chakra-ui/react";

const Svg = chakra("svg");

export function StateShape({ level }: { level: string }) {
  if (level === "none") return <Box w="14px" flexShrink={0} />;
  return (
    <Svg viewBox="0 0 14 14" w="14px" h="14px" flexShrink={0} aria-hidden color="ink">
      <circle
        cx="7"
        cy="7"
        r="5.5"
        fill={level === "act" ? "currentColor" : "none"}
        stroke="currentColor"
        strokeWidth="2"
      />
      {level === "watch" && <path d="M7 1.5a5.5 5.5 0 0 0 0 11z" fill="currentColor" />}
    </Svg>
  );
}

export function StateMark({ level, word }: { level: string; word: string }) {
  return (
    <Box
      display="inline-flex"
      alignItems="center"
      gap="8px"
      fontSize="14px"
      fontWeight={level === "act" ? 700 : 400}
      color={level === "fine" ? "muted" : "ink"}
    >
      <StateShape level={level} />
      {word}
    </Box>
  );
}
