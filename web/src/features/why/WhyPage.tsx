// Every rule with its school, reason and source. Each number elsewhere links here.
import { Box, Flex, Heading, Text } from "@chakra-ui/react";
import { useEffect, useMemo, useState } from "react";
import { useLocation } from "react-router";

import { type Meta, useMeta } from "../../api/meta";
import { Field, Input, Select } from "../../ui/controls";
import { Page, Waiting } from "../../ui/Page";

type Reason = Meta["reasons"][string];

export function WhyPage() {
  const meta = useMeta();
  const { hash } = useLocation();
  const [find, setFind] = useState("");
  const [school, setSchool] = useState("");
  const reasons = useMemo(() => Object.values(meta.data?.reasons ?? {}), [meta.data]);
  useEffect(() => {
    if (reasons.length && hash) document.getElementById(hash.slice(1))?.scrollIntoView({ block: "start" });
  }, [reasons, hash]);
  if (!meta.data) return <Waiting error={meta.error} />;
  const schools = [...new Set(reasons.map((r) => r.school))];
  const wanted = find.trim().toLowerCase();
  const shown = reasons.filter(
    (r) =>
      (!school || r.school === school) &&
      (!wanted || `${r.title} ${r.text} ${r.source}`.toLowerCase().includes(wanted)),
  );
  return (
    <Page above="Rules, reasons, sources" headline="Why Kumpan says what it says.">
      <Flex gap="16px" wrap="wrap" mb="20px" maxW="640px">
        <Box flex="1 1 240px">
          <Field label="Find">
            {(p) => (
              <Input
                {...p}
                type="search"
                value={find}
                onChange={(e) => setFind(e.target.value)}
                placeholder="stabilizer, swim, 1974 …"
              />
            )}
          </Field>
        </Box>
        <Box w="220px">
          <Field label="School">
            {(p) => (
              <Select {...p} value={school} onChange={(e) => setSchool(e.target.value)}>
                <option value="">every school</option>
                {schools.map((s) => (
                  <option key={s}>{s}</option>
                ))}
              </Select>
            )}
          </Field>
        </Box>
      </Flex>
      {shown.length === 0 && <Text role="status">No rule says that. Try another word.</Text>}
      <Box css={{ columnWidth: "480px", columnGap: "56px" }}>
        {shown.map((r) => (
          <Rule key={r.id} reason={r} marked={hash === `#${r.id}`} />
        ))}
      </Box>
    </Page>
  );
}

function Rule({ reason, marked }: { reason: Reason; marked: boolean }) {
  return (
    <Box
      id={reason.id}
      as="section"
      css={{ breakInside: "avoid", scrollMarginTop: "16px" }}
      borderTop="1px solid"
      borderColor={marked ? "ink" : "hair"}
      borderTopWidth={marked ? "3px" : "1px"}
      py="12px"
    >
      <Heading as="h2" fontSize="16px" fontWeight={700}>
        {reason.title}
      </Heading>
      <Text fontSize="16px" mt="4px">
        {reason.text}
      </Text>
      <Text fontSize="14px" color="muted" mt="6px">
        <b>{reason.school}.</b> {reason.source}
      </Text>
    </Box>
  );
}
