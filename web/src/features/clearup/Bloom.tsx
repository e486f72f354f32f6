// Of a bloom: the guided look and what it may be, treat or drain side by side, and the schools.
import { Box, chakra, Flex, Grid, Text } from "@chakra-ui/react";
import { useState } from "react";

import { type Asked, type ClearUp } from "../../api/clearup";
import { type Meta } from "../../api/meta";
import { LinkButton, Notice } from "../../ui/controls";
import { ColumnHead } from "../../ui/Page";
import { StateMark } from "../../ui/StateMark";
import { Pick } from "./Pick";

type Data = NonNullable<ClearUp["bloom"]>;
type Props = { asked: Asked; change: (part: Partial<Asked>) => void; meta: Meta; bloom: Data | null };

export function Bloom({ asked, change, meta, bloom }: Props) {
  const [looking, setLooking] = useState(Object.keys(asked.answers).length > 0);
  const answer = (question: string, value: string) =>
    change({
      answers: Object.fromEntries(
        [...Object.entries(asked.answers).filter(([q]) => q !== question), [question, value]].filter(
          ([, v]) => v,
        ),
      ),
    });
  return (
    <Box minW={0}>
      <ColumnHead title="What is it?" note={bloom ? `${Object.keys(asked.answers).length} answered` : ""} />
      {!looking ? (
        <Box>
          <Text mb="8px">
            Most green water is green algae. Pollen, sand, dead algae, copper, iron and leaves look like it,
            and a shock does nothing for those.
          </Text>
          <LinkButton onClick={() => setLooking(true)}>Look closer: eight short questions</LinkButton>
        </Box>
      ) : (
        <>
          {bloom && <Verdict found={bloom.identified} />}
          <Flex direction="column" gap="16px" mt="12px">
            {meta.clear_up.questions.map((q) => (
              <Pick
                key={q.id}
                ask={q.label}
                name={q.id}
                choices={q.choices}
                value={asked.answers[q.id] ?? ""}
                pick={(value) => answer(q.id, value)}
              />
            ))}
          </Flex>
        </>
      )}
      {bloom && bloom.kind !== "green" && <Text mt="16px">{bloom.kind_said}</Text>}
      <Box mt="16px">
        <Pick
          ask="An algae product at hand? What is in it?"
          name="active"
          choices={meta.clear_up.actives}
          value={asked.algae_product}
          pick={(algae_product) => change({ algae_product })}
          note={
            bloom?.product && (
              <Text mt="6px" fontWeight={700}>
                {bloom.product}
              </Text>
            )
          }
        />
      </Box>
      {bloom?.refuses && (
        <Box mt="16px">
          <Notice>{bloom.refuses}</Notice>
        </Box>
      )}
      {bloom && asked.severity && <Ways bloom={bloom} />}
    </Box>
  );
}

/** What it may be: shares as lengths, with what speaks for it and the test that settles it. */
function Verdict({ found }: { found: Data["identified"] }) {
  const named = found.likely.find((o) => o.id === found.named);
  const two = named ? [named] : found.likely.slice(0, 2);
  return (
    <Box aria-live="polite" borderLeft="4px solid" borderColor="ink" pl="12px" py="2px">
      <Text fontSize="20px" fontWeight={800} lineHeight="1.2">
        {found.verdict}
      </Text>
      <Grid templateColumns="auto minmax(0,1fr) 48px" gap="4px 10px" alignItems="center" mt="8px">
        {found.likely.map((o) => (
          <Box key={o.id} display="contents">
            <Text>{o.label}</Text>
            <Box h="10px" bg="channel" position="relative">
              <Box position="absolute" inset="0 auto 0 0" w={`${o.percent}%`} bg="ink" />
            </Box>
            <Text textAlign="right" fontVariantNumeric="tabular-nums">
              {o.percent} %
            </Text>
          </Box>
        ))}
      </Grid>
      {found.likely.some((o) => o.speaks_for.length + o.against.length > 0) &&
        two.map((o) => (
          <Text key={o.id} fontSize="14px" mt="8px">
            <b>{o.label}</b>
            {o.speaks_for.length > 0 && `, for it: ${o.speaks_for.join(", ")}`}
            {o.against.length > 0 && `; against it: ${o.against.join(", ")}`}. <b>Settles it:</b> {o.settles}
          </Text>
        ))}
    </Box>
  );
}

/** Treat, exchange or drain: one line a figure, one column a way, the advised one first. */
function Ways({ bloom }: { bloom: Data }) {
  const [more, setMore] = useState(false);
  const names = [...new Set(bloom.ways.flatMap((w) => w.figures.map(([what]) => what!)))];
  const [advised, ...others] = bloom.ways;
  return (
    <Box mt="28px">
      <ColumnHead title="Treat or drain?" />
      {bloom.advice.map((reason) => (
        <Text key={reason}>{reason}</Text>
      ))}
      <chakra.table w="100%" mt="12px" fontSize="14px" style={{ borderCollapse: "collapse" }}>
        <thead>
          <tr>
            <chakra.th w="52px" />
            {bloom.ways.map((way) => (
              <chakra.th
                key={way.id}
                scope="col"
                textAlign="left"
                verticalAlign="bottom"
                pb="4px"
                pr="8px"
                fontSize="16px"
                fontWeight={way.advised ? 800 : 400}
                lineHeight="1.2"
              >
                {way.label}
                {way.advised && <StateMark level="fine" word="advised" />}
              </chakra.th>
            ))}
          </tr>
        </thead>
        <tbody>
          {names.map((name) => (
            <chakra.tr key={name} borderTop="1px solid" borderColor="hair" verticalAlign="top">
              <chakra.th scope="row" textAlign="left" fontWeight={400} color="muted" py="5px" pr="8px">
                {name}
              </chakra.th>
              {bloom.ways.map((way) => (
                <chakra.td key={way.id} py="5px" pr="8px" fontWeight={way.advised ? 700 : 400}>
                  {way.figures.find(([what]) => what === name)?.[1] ?? "–"}
                </chakra.td>
              ))}
            </chakra.tr>
          ))}
        </tbody>
      </chakra.table>
      {advised?.risks.map((risk) => (
        <Text key={risk} fontSize="14px" mt="6px" color="caution">
          {risk}
        </Text>
      ))}
      <LinkButton aria-expanded={more} onClick={() => setMore(!more)}>
        {more ? "fold" : "what to mind with the others"}
      </LinkButton>
      {more &&
        others.map((way) => (
          <Text key={way.id} fontSize="14px" mt="4px">
            <b>{way.label}:</b> {way.risks.join(" ")}
          </Text>
        ))}
    </Box>
  );
}
