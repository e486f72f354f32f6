// What comes of it: pH, hypochlorous acid and saturation index as tested, with the plan in, and once its chlorine is spent.
import { Box, Flex, Text } from "@chakra-ui/react";
import { Fragment, memo, useState } from "react";

import { type PlanData } from "../../api/plans";
import { useWide } from "../../lib/wide";
import { LinkButton } from "../../ui/controls";
import { Slot } from "../../ui/Slot";
import { WhyLink } from "../../ui/WhyLink";

const STAGES = ["tested", "plan in", "chlorine spent"];

export const Outcomes = memo(function Outcomes({ outcomes }: { outcomes: PlanData["outcomes"] }) {
  const wide = useWide();
  const [asked, setAsked] = useState(false); // on a phone it stands folded
  const open = wide || asked;
  const shown = outcomes.filter((o) => o.tested || o.needs);
  if (!shown.some((o) => o.tested)) return null;
  const stages = outcomes.some((o) => o.planned) ? STAGES : STAGES.slice(0, 1);
  return (
    <Box
      mt="16px"
      pt="10px"
      borderTop="1px solid"
      borderColor="hair"
      ml={{ base: 0, md: "112px" }}
      pl={{ base: 0, md: "12px" }}
    >
      <Flex gap="10px" align="baseline" wrap="wrap">
        <Text as="h3" fontSize="14px" fontWeight={700}>
          What comes of it
        </Text>
        {!wide && (
          <LinkButton aria-expanded={asked} onClick={() => setAsked(!asked)}>
            {asked ? "fold" : "show"}
          </LinkButton>
        )}
        {open && stages.length > 1 && <WhyLink reasonId="spent">why three</WhyLink>}
        {open && stages.length > 1 && (
          <Text fontSize="14px" color="muted">
            hollow: tested; solid: with the plan in; bar: once its chlorine is spent
          </Text>
        )}
      </Flex>
      {open && (
        <table className="outcomes">
          <thead>
            <tr>
              <td />
              <td className="beside" />
              {stages.map((stage) => (
                <th key={stage} scope="col">
                  {stage}
                </th>
              ))}
            </tr>
          </thead>
          <tbody>
            {shown.map((o) => {
              const slot = o.slot && stages.length > 1 ? <Slot slot={o.slot} bare /> : null;
              return (
                <Fragment key={o.id}>
                  <tr>
                    <th scope="row" className={o.id === "langelier" ? "under" : undefined}>
                      {o.label} <WhyLink reasonId={o.reason_id} />
                    </th>
                    <td className="beside">{slot}</td>
                    {o.needs ? (
                      <td className="needs" colSpan={stages.length}>
                        {o.needs}
                      </td>
                    ) : (
                      [o.tested, o.planned, o.spent]
                        .slice(0, stages.length)
                        .map((text, i) => <td key={STAGES[i]}>{text}</td>)
                    )}
                  </tr>
                  {slot && (
                    <tr className="below">
                      <td colSpan={stages.length + 2}>{slot}</td>
                    </tr>
                  )}
                </Fragment>
              );
            })}
          </tbody>
        </table>
      )}
    </Box>
  );
});
