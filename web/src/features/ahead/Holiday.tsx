// What so many days without anybody will do, and the way to prepare for them.
import { Box, Flex, Text } from "@chakra-ui/react";
import { useState } from "react";
import { Link } from "react-router";

import { Problem } from "../../api/client";
import { useAway } from "../../api/machines";
import { Field, Input } from "../../ui/controls";
import { ColumnHead } from "../../ui/Page";

export function Holiday({ poolId }: { poolId: string }) {
  const [text, setText] = useState("7");
  const days = /^\d{1,4}$/.test(text.trim()) ? Number(text) : 0;
  const away = useAway(poolId, days);
  const refused = away.error instanceof Problem ? away.error.at("days") : undefined;
  const plan = refused ? undefined : away.data;
  return (
    <Box as="section" aria-label="If nobody is here" minW={0}>
      <ColumnHead title="If nobody is here" />
      <Flex gap="16px" align="flex-end">
        <Box w="110px" flexShrink={0}>
          <Field label="Days" error={refused}>
            {(p) => (
              <Input {...p} inputMode="numeric" value={text} onChange={(e) => setText(e.target.value)} />
            )}
          </Field>
        </Box>
        {plan && <Text pb="10px">back on {plan.returns_words}</Text>}
      </Flex>
      {plan && (
        <Box mt="10px">
          <Text fontWeight={700}>{plan.sentence}</Text>
          <Text mt="6px">Chlorine on return: {plan.fc_words}.</Text>
          <Text>pH on return: {plan.ph_words}.</Text>
          {plan.unsure.map((line) => (
            <Text key={line} fontSize="14px" color="muted" mt="4px">
              {line}
            </Text>
          ))}
          <Text mt="8px">
            <Link to="/care/away" style={{ textDecoration: "underline" }}>
              What to do before, and a note for who looks in
            </Link>
          </Text>
        </Box>
      )}
    </Box>
  );
}
