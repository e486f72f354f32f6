// The bar at a phone's foot: the next act alone.
import { Box } from "@chakra-ui/react";
import type { ReactNode } from "react";

export function Bar({ children }: { children: ReactNode }) {
  return (
    <Box
      display={{ base: "block", md: "none" }}
      position="fixed"
      left={0}
      right={0}
      bottom="64px"
      zIndex={15}
      className="noprint"
    >
      {children}
    </Box>
  );
}
