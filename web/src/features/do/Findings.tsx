// What a walk found: what to do at once, what is followed up, and its photos.
import { Box, Text } from "@chakra-ui/react";
import { Link } from "react-router";

import { type Sheet } from "../../api/sheets";
import { Photos } from "../../ui/Photos";

export function Findings({ found }: { found: Sheet["found"] }) {
  if (found.length === 0) return null;
  return (
    <Box mt="20px" as="section" aria-label="Found on this walk">
      <Text fontWeight={700}>Found on this walk</Text>
      {found.map((one) => (
        <Box key={one.id} borderTop="1px solid" borderColor="hair" py="8px">
          <Text fontWeight={700}>{one.label}</Text>
          {one.caution && (
            <Text color="caution" fontWeight={700}>
              {one.caution}
            </Text>
          )}
          {one.task && (
            <Text fontSize="14px">
              On the list: {one.task}.{" "}
              {one.opens === "clear-up" && (
                <Link to="/clear-up" style={{ textDecoration: "underline" }}>
                  begin now
                </Link>
              )}
            </Text>
          )}
          {one.event_id && (
            <Photos photos={one.photos} owner={{ event_id: one.event_id }} label="Photo of it" />
          )}
        </Box>
      ))}
    </Box>
  );
}
