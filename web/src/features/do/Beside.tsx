// What else can be done now at this pool: another sheet's next act, so that its dose is not forgotten behind this one.
import { Box, Text } from "@chakra-ui/react";
import { Link } from "react-router";

import { useToday } from "../../api/plans";
import { type TodayLine } from "../../api/sheets";

export const useBeside = (poolId: string, sheetId: string) =>
  useToday(poolId).data?.lines.filter((l) => l.sheet_id !== sheetId) ?? [];

export function Beside({ lines }: { lines: TodayLine[] }) {
  if (lines.length === 0) return null;
  return (
    <Box mt="20px" as="section" aria-label="Under way besides">
      <Text fontWeight={700}>Under way besides</Text>
      {lines.map((line) => (
        <Box key={`${line.sheet_id} ${line.key}`} borderTop="1px solid" borderColor="hair" py="8px">
          <Link
            to={`/do/${line.sheet_id}#${line.key}`}
            style={{ textDecoration: "underline", fontWeight: 700 }}
          >
            {line.title}
          </Link>
          <Text fontSize="14px" color="muted">
            {line.sheet}
            {line.held
              ? `, waits${line.held_until ? ` until ${line.held_until}` : ""}: ${line.held}`
              : line.free
                ? ", now"
                : `, ${line.clock}`}
          </Text>
        </Box>
      ))}
    </Box>
  );
}
