// What the log proves of the volume: one line each for what was known, what the dose says, and both together. The person decides.
import { Box, Flex, Text } from "@chakra-ui/react";

import { Problem } from "../../api/client";
import { type Pool, type Proof, useProofs, useWeighProof } from "../../api/pools";
import { ActButton, LinkButton, Notice } from "../../ui/controls";
import { ColumnHead } from "../../ui/Page";
import { WhyLink } from "../../ui/WhyLink";

export function Proofs({ pool }: { pool: Pool }) {
  const list = useProofs(pool);
  const change = useWeighProof(pool);
  if (!list.data?.length) return null;
  return (
    <Box mt="24px">
      <ColumnHead title="Your log knows too" note={<WhyLink reasonId="volume_proof">how?</WhyLink>} />
      {list.data.slice(0, 4).map((p) => (
        <Box key={p.key} borderTop="1px solid" borderColor="hair" py="10px">
          <Text fontSize="14px">{p.text}</Text>
          <Spans proof={p} />
          {p.doubt && (
            <Text fontSize="14px" color="caution" fontWeight={700}>
              {p.doubt}
            </Text>
          )}
          <Flex gap="16px" align="center" mt="6px" wrap="wrap">
            {p.taken ? (
              <>
                <Text fontSize="14px" fontWeight={700}>
                  It counts.
                </Text>
                <LinkButton type="button" onClick={() => change.mutate(p)}>
                  leave it out
                </LinkButton>
              </>
            ) : (
              <ActButton
                type="button"
                look="line"
                disabled={change.isPending}
                onClick={() => change.mutate(p)}
              >
                Let it count: {p.together.text}
              </ActButton>
            )}
          </Flex>
        </Box>
      ))}
      {change.error && <Notice>{(change.error as Problem).message}</Notice>}
      <Text fontSize="14px" color="muted">
        Right only if no water was lost or added between. Past plans stay as they were.
      </Text>
    </Box>
  );
}

function Spans({ proof }: { proof: Proof }) {
  const rows = [
    ["known", proof.known],
    ["this dose", proof.implied],
    ["together", proof.together],
  ] as const;
  const x = (share: number) => 8 + share * 304;
  return (
    <Box my="8px" fontSize="14px">
      {rows.map(([name, s]) => (
        <Flex key={name} align="center" gap="12px" wrap={{ base: "wrap", md: "nowrap" }}>
          <Text w="72px" color="muted">
            {name}
          </Text>
          <Box flex="1 1 140px" minW="120px" maxW="320px">
            <svg viewBox="0 0 320 20" aria-hidden style={{ width: "100%", display: "block" }}>
              <line x1={0} x2={320} y1={10} y2={10} stroke="var(--chakra-colors-hair)" strokeWidth={2} />
              <line
                x1={x(s.low)}
                x2={x(s.high)}
                y1={10}
                y2={10}
                stroke="var(--chakra-colors-muted)"
                strokeWidth={4}
                opacity={0.6}
              />
              <circle
                cx={x(s.at)}
                cy={10}
                r={5}
                fill={name === "together" ? "currentColor" : "var(--chakra-colors-paper)"}
                stroke="currentColor"
                strokeWidth={2}
              />
            </svg>
          </Box>
          <Text fontWeight={name === "together" ? 700 : 400}>{s.text}</Text>
        </Flex>
      ))}
    </Box>
  );
}
