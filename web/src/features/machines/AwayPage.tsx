// Going away: days in, a short plan out, with what is expected on return and a note for the person who looks in.
import { Box, Flex, Grid, Text } from "@chakra-ui/react";
import { useState } from "react";

import { Problem } from "../../api/client";
import { useAway } from "../../api/machines";
import { useDueAct } from "../../ui/Due";
import { ActButton, Field, Input, LinkButton } from "../../ui/controls";
import { ColumnHead, Page, Waiting } from "../../ui/Page";
import { PoolSwitch, usePool } from "../../ui/PoolSwitch";
import { Slot } from "../../ui/Slot";
import { WhyLink } from "../../ui/WhyLink";

const USUAL_DAYS = "7";

export function AwayPage() {
  const { pool, choose, pools } = usePool();
  const [text, setText] = useState(USUAL_DAYS);
  const days = /^\d{1,4}$/.test(text.trim()) ? Number(text) : 0;
  const away = useAway(pool?.id, days);
  const act = useDueAct(pool?.id ?? "");
  if (!pool || (!away.data && !away.error)) return <Waiting error={pools.error} />;
  const refused = away.error instanceof Problem ? away.error.at("days") : undefined;
  const plan = refused ? undefined : away.data;
  return (
    <Page
      above={<PoolSwitch pool={pool} pools={pools.data ?? []} choose={choose} />}
      headline={plan?.sentence ?? "How many days is nobody here?"}
    >
      <Grid
        templateColumns={{ base: "minmax(0,1fr)", lg: "300px minmax(0,1fr) 360px" }}
        gap={{ base: "24px", lg: "36px" }}
      >
        <Box>
          <Box maxW="180px" className="noprint">
            <Field label="Days away" error={refused}>
              {(p) => (
                <Input
                  {...p}
                  inputMode="numeric"
                  fontSize="28px"
                  h="56px"
                  value={text}
                  onChange={(e) => setText(e.target.value)}
                />
              )}
            </Field>
          </Box>
          {plan && (
            <>
              <Text mt="8px">Back on {plan.returns_words}.</Text>
              <Box mt="20px">
                <ColumnHead title="On the day of return" />
                {plan.fc && <Slot slot={plan.fc} />}
                <Text fontSize="14px" color="muted">
                  {plan.fc_words}
                </Text>
                <Box mt="10px">{plan.ph && <Slot slot={plan.ph} />}</Box>
                <Text fontSize="14px" color="muted">
                  pH {plan.ph_words} <WhyLink reasonId="machine_demand" />
                </Text>
                {plan.unsure.map((line) => (
                  <Text key={line} mt="8px" pl="10px" borderLeft="3px solid" borderColor="hair">
                    {line}
                  </Text>
                ))}
              </Box>
            </>
          )}
        </Box>
        {plan && (
          <Box minW={0}>
            <ColumnHead title="Before you leave" />
            <Box as="ol" listStyleType="none" p={0} m={0}>
              {plan.before.map((b) => (
                <Box as="li" key={b.title} borderTop="1px solid" borderColor="hair" py="10px">
                  {b.amount && (
                    <Text fontSize="28px" fontWeight={800} lineHeight="1.15">
                      {b.amount}
                    </Text>
                  )}
                  <Text fontSize="18px" fontWeight={700}>
                    {b.title}
                  </Text>
                  <Text color="muted">{b.why}</Text>
                </Box>
              ))}
              {plan.settings.map((s) => (
                <Box as="li" key={s} borderTop="1px solid" borderColor="hair" py="10px">
                  <Text fontSize="18px" fontWeight={700}>
                    {s}
                  </Text>
                </Box>
              ))}
            </Box>
            <Flex gap="20px" mt="14px" align="center" wrap="wrap" className="noprint">
              <ActButton disabled={act.busy} onClick={() => act.begin("away", days)}>
                Begin, step by step
              </ActButton>
              <LinkButton onClick={() => window.print()}>print the note</LinkButton>
            </Flex>
            {act.failed && (
              <Text role="alert" mt="8px" color="caution" fontWeight={700}>
                {act.failed.message}
              </Text>
            )}
          </Box>
        )}
        {plan && (
          <Box minW={0}>
            <ColumnHead title="For the person who looks in" />
            <Box as="ol" pl="24px" m={0} fontSize="18px" lineHeight="1.4" listStyleType="decimal">
              {plan.note.map((line) => (
                <Box as="li" key={line} mb="8px">
                  {line}
                </Box>
              ))}
            </Box>
            <Box mt="24px">
              <ColumnHead title="Once you are back" />
              {plan.after.map((line) => (
                <Text key={line} mb="6px">
                  {line}
                </Text>
              ))}
            </Box>
          </Box>
        )}
      </Grid>
    </Page>
  );
}
