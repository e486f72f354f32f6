// What is to come, on Today.
import { Flex, Text } from "@chakra-ui/react";
import { Link } from "react-router";

import { ScoresOf } from "../../ui/Scores";
import { WhyLink } from "../../ui/WhyLink";

/** What is to come, in one sentence; how often such sentences came out stands behind its why. */
export function ToCome({ sentence, poolId }: { sentence: string; poolId: string }) {
  return (
    <Flex gap="4px 12px" align="baseline" wrap="wrap" mt="4px" fontSize="16px">
      <Text fontWeight={700}>{sentence}</Text>
      <WhyLink reasonId="forecast" picture={<ScoresOf poolId={poolId} />} />
      <Link to="/log/ahead" style={{ textDecoration: "underline", fontSize: "14px" }}>
        the days ahead
      </Link>
    </Flex>
  );
}
