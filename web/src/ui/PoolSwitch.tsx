// Whose water this is, and the way to the next pool.
import { Flex, Text } from "@chakra-ui/react";

import { type Pool, usePools } from "../api/pools";
import { usePoolInView } from "../lib/pool";
import { Select } from "./controls";

export function usePool() {
  const pools = usePools();
  const [pool, choose] = usePoolInView(pools.data);
  return { pool, choose, pools };
}

export function PoolSwitch({
  pool,
  pools,
  choose,
}: {
  pool: Pool;
  pools: Pool[];
  choose: (id: string) => void;
}) {
  return (
    <Flex align="center" gap="4px" wrap="wrap">
      <Select
        aria-label="Pool"
        value={pool.id}
        onChange={(e) => choose(e.target.value)}
        w="auto"
        border="none"
        px="0"
        fontWeight={700}
        fontSize="14px"
        minH={{ base: "44px", md: "32px" }}
        color="ink"
      >
        {pools.map((p) => (
          <option key={p.id} value={p.id}>
            {p.name}
          </option>
        ))}
      </Select>
      <Text display={{ base: "none", md: "block" }}>· {pool.summary}</Text>
    </Flex>
  );
}
