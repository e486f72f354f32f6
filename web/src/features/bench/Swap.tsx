// Another product or strength for a step: chosen where it is read.
import { Box, Flex, Text } from "@chakra-ui/react";
import { useState } from "react";

import { type Meta } from "../../api/meta";
import { type Step } from "../../api/plans";
import { Field, Input, LinkButton, Select } from "../../ui/controls";

type Choice = { product_id: string; strength: number | null };
type Props = {
  step: Step;
  meta: Meta;
  onAct: boolean;
  error?: string | undefined;
  choose: (role: string, choice: Choice) => void;
};

export function Swap({ step, meta, onAct, error, choose }: Props) {
  const [open, setOpen] = useState(false);
  const role = step.role === "lower_ta" ? "lower_ph" : step.role;
  const products = meta.products.filter((p) => p.roles.includes(role));
  const current = products.find((p) => p.id === step.product_id);
  const usual =
    current?.strength == null
      ? ""
      : (current.strength * 100).toLocaleString("en", { maximumFractionDigits: 2 });
  const [strength, setStrength] = useState(step.strength === null ? "" : String(step.strength * 100));
  if (!current) return null;
  if (!open)
    return (
      <LinkButton onAct={onAct} onClick={() => setOpen(true)}>
        other product or strength
      </LinkButton>
    );
  function typed(text: string) {
    setStrength(text);
    const percent = Number(text.replace(",", "."));
    choose(role, {
      product_id: current!.id,
      strength: text.trim() === "" || !Number.isFinite(percent) ? null : percent / 100,
    });
  }
  return (
    <Box mt="8px" p="10px" bg="paper" color="ink" border="1px solid" borderColor="ink">
      <Flex gap="10px" align="end" wrap="wrap">
        <Box flex="1 1 180px">
          <Field label="Product">
            {(props) => (
              <Select
                {...props}
                value={current.id}
                onChange={(e) => {
                  setStrength("");
                  choose(role, { product_id: e.target.value, strength: null });
                }}
              >
                {products.map((p) => (
                  <option key={p.id} value={p.id}>
                    {p.name}
                  </option>
                ))}
              </Select>
            )}
          </Field>
        </Box>
        <Box w="96px">
          <Field label="Strength, %">
            {(props) => (
              <Input
                {...props}
                inputMode="decimal"
                placeholder={usual}
                value={strength}
                onChange={(e) => typed(e.target.value)}
              />
            )}
          </Field>
        </Box>
        <LinkButton onClick={() => setOpen(false)}>done</LinkButton>
      </Flex>
      {step.alternatives.length > 0 && (
        <Box mt="8px">
          <Text fontSize="14px" fontWeight={700}>
            Instead, to the same effect
          </Text>
          {step.alternatives.map((a) => (
            <Flex
              key={a.product_id}
              gap="8px"
              fontSize="14px"
              align="baseline"
              borderTop="1px solid"
              borderColor="hair"
              py="2px"
              wrap="wrap"
            >
              <LinkButton
                aria-label={`use ${a.name}`}
                onClick={() => {
                  setStrength("");
                  choose(role, { product_id: a.product_id, strength: a.strength });
                }}
              >
                use
              </LinkButton>
              <Text fontWeight={700}>{a.amount}</Text>
              <Text flex="1 1 140px">
                {a.name}
                {a.at_hand ? ", at hand" : ""}
              </Text>
              <Text color="muted">
                {[a.side === "nothing else" ? "" : a.side, a.cost].filter(Boolean).join(" · ")}
              </Text>
            </Flex>
          ))}
        </Box>
      )}
      <Text fontSize="14px" color={error ? "caution" : "muted"} fontWeight={error ? 700 : 400} mt="6px">
        {error ?? `Strength means ${current.strength_means}.`}
      </Text>
    </Box>
  );
}
