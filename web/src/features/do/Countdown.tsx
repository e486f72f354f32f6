// A timer that belongs to a mark's instant: it runs on after a reload and on a second phone.
import { Text } from "@chakra-ui/react";
import { useEffect, useState } from "react";

const clock = (seconds: number) =>
  `${Math.floor(seconds / 60)}:${String(Math.floor(seconds % 60)).padStart(2, "0")}`;

/** Time left until an instant; past it, how long it has been over. */
export function Countdown({ until, over }: { until: string; over: string }) {
  const [now, setNow] = useState(() => Date.now());
  useEffect(() => {
    const id = setInterval(() => setNow(Date.now()), 250);
    return () => clearInterval(id);
  }, []);
  const left = (Date.parse(until) - now) / 1000;
  return (
    <>
      <Text
        role="timer"
        fontSize="72px"
        fontWeight={800}
        lineHeight="1"
        textAlign="center"
        letterSpacing="-2px"
        fontVariantNumeric="tabular-nums"
      >
        {left >= 0 ? clock(left + 0.999) : `+${clock(-left)}`}
      </Text>
      <Text textAlign="center" color="muted" mt="4px">
        {left >= 0 ? "left" : over}
      </Text>
    </>
  );
}
