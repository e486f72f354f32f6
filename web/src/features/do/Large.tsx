// The step that is on, large enough to read at arm's length.
import { Box, chakra, Flex, Heading, Text } from "@chakra-ui/react";

import { type SheetStep } from "../../api/sheets";
import { Amount } from "../../ui/Amount";
import { Slot } from "../../ui/Slot";
import { WhyLink } from "../../ui/WhyLink";
import { Countdown } from "./Countdown";
import { Drawing } from "./Drawings";
import { Pad } from "./Pad";

/** The step, large: its title, drawing or amount, how, caution, why. */
export function Large({ step, until, pad }: { step: SheetStep; until: string | null; pad: boolean }) {
  const { plan, guide } = step;
  return (
    <Box>
      {plan?.amount && <Amount amount={plan.amount} />}
      <Heading as="h2" fontSize="28px" lineHeight="1.15" fontWeight={800} mt="4px" aria-live="polite">
        {guide?.title ?? plan?.title}
      </Heading>
      {guide?.draws && (
        <Box my="16px">
          {until && step.state !== "done" ? (
            <Countdown until={until} over={guide.until ? `over: stop when ${guide.until}` : "over"} />
          ) : (
            <Drawing draws={guide.draws} at={step.key} />
          )}
        </Box>
      )}
      {guide && pad && !guide.draws && (
        <Box my="16px">
          {until && step.state !== "done" ? (
            <Countdown until={until} over={guide.until ? `over: stop when ${guide.until}` : "over"} />
          ) : null}
          <Box
            display={{ base: until && step.state !== "done" ? "none" : "block", lg: "block" }}
            mt={{ lg: "16px" }}
          >
            <Pad valve={guide.valve} pump={guide.pump} kind={guide.valve_kind} />
          </Box>
        </Box>
      )}
      {step.day_words && (
        <Text color="muted" mt="4px">
          {[
            step.day_words,
            guide?.takes_min ? `about ${guide.takes_min} min` : "",
            guide?.helper ? "two people" : "",
          ]
            .filter(Boolean)
            .join(" · ")}
        </Text>
      )}
      <Text fontSize="18px" lineHeight="1.4" mt="8px">
        {guide?.how ?? plan?.how}
      </Text>
      {(guide?.caution ?? plan?.caution) && (
        <Text fontSize="18px" lineHeight="1.4" mt="6px" color="caution" fontWeight={700}>
          {guide?.caution ?? plan?.caution}
        </Text>
      )}
      {plan?.warnings.map((warning) => (
        <Text key={warning} mt="8px" pl="10px" borderLeft="3px solid" fontWeight={700}>
          {warning}
        </Text>
      ))}
      {step.plan?.sentence && step.plan.kind === "add" && (
        <Text mt="6px" color="muted">
          {step.plan.sentence}
        </Text>
      )}
      {plan && plan.slots.length > 0 && (
        <Flex direction="column" gap="10px" mt="16px" maxW="420px">
          {plan.slots.map((slot) => (
            <Slot key={slot.measure} slot={slot} />
          ))}
        </Flex>
      )}
      {step.told && (
        <Text mt="10px" pl="10px" borderLeft="3px solid" fontSize="18px" lineHeight="1.4">
          {step.told}
        </Text>
      )}
      {guide?.why && step.day_words && (
        <Text mt="6px" color="muted">
          {guide.why}
        </Text>
      )}
      <chakra.div mt="8px">
        <WhyLink reasonId={guide?.reason_id ?? plan?.reason_id ?? "order"} />
      </chakra.div>
    </Box>
  );
}
