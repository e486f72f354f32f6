// Six weeks of days: what was done, and what comes round.
import { Box, Grid, Text } from "@chakra-ui/react";

import { type Care } from "../../api/care";
import { useWide } from "../../lib/wide";

const DAYS = ["Mon", "Tue", "Wed", "Thu", "Fri", "Sat", "Sun"];
const name = (day: string, first: boolean) => {
  const date = new Date(`${day}T12:00:00Z`);
  const number = date.getUTCDate();
  const month = date.toLocaleDateString("en-US", { month: "short", timeZone: "UTC" });
  return first || number === 1 ? `${number} ${month}` : String(number);
};

export function Calendar({ care }: { care: Care }) {
  const wide = useWide();
  return wide ? <Sheet care={care} /> : <List care={care} />;
}

function Sheet({ care }: { care: Care }) {
  return (
    <Grid templateColumns="repeat(7, minmax(0,1fr))" borderTop="1px solid" borderColor="hair" role="list">
      {DAYS.map((d) => (
        <Text key={d} fontSize="14px" color="muted" py="4px" aria-hidden>
          {d}
        </Text>
      ))}
      {care.calendar.map((one, i) => {
        const today = one.day === care.year.today;
        return (
          <Box
            key={one.day}
            role="listitem"
            borderTop={today ? "4px solid" : "1px solid"}
            borderColor={today ? "ink" : "hair"}
            minH="84px"
            py="4px"
            pr="8px"
            fontSize="14px"
            color={one.day < care.year.today ? "muted" : "ink"}
          >
            <Text fontWeight={today ? 800 : 400}>
              {name(one.day, i === 0)}
              {today && " today"}
            </Text>
            <Titles day={one} most={3} />
          </Box>
        );
      })}
    </Grid>
  );
}

function List({ care }: { care: Care }) {
  const days = care.calendar.filter((d) => d.day >= care.year.today && d.due.length > 0).slice(0, 21);
  return (
    <Box as="ol" listStyleType="none" p={0} m={0}>
      {days.map((one) => (
        <Grid
          as="li"
          key={one.day}
          templateColumns="92px minmax(0,1fr)"
          borderTop="1px solid"
          borderColor="hair"
          py="8px"
          fontSize="14px"
        >
          <Text fontWeight={one.day === care.year.today ? 700 : 400}>
            {new Date(`${one.day}T12:00:00Z`).toLocaleDateString("en-US", {
              weekday: "short",
              day: "numeric",
              month: "short",
              timeZone: "UTC",
            })}
          </Text>
          <Box>
            <Titles day={one} most={6} />
          </Box>
        </Grid>
      ))}
    </Box>
  );
}

function Titles({ day, most }: { day: Care["calendar"][number]; most: number }) {
  const more = day.due.length - most;
  return (
    <>
      {day.done.map((title) => (
        <Text key={`done ${title}`} lineHeight="1.25" color="muted">
          ✓ {title}
        </Text>
      ))}
      {day.due.slice(0, most).map((title) => (
        <Text key={title} lineHeight="1.25">
          {title}
        </Text>
      ))}
      {more > 0 && <Text color="muted">and {more} more</Text>}
    </>
  );
}
