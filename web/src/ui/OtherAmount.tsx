// What was poured where it differs from what was planned.
import { Box, Flex } from "@chakra-ui/react";
import { useState } from "react";

import { type Problem } from "../api/client";
import { type Meta } from "../api/meta";
import { type Step } from "../api/plans";
import { ActButton, Field, Input, LinkButton, Select } from "./controls";

type Props = {
  step: Step;
  meta: Meta;
  busy: boolean;
  error: Problem | null;
  onAct?: boolean;
  pour: (amount: string, unit: string) => void;
};

export function OtherAmount({ step, meta, busy, error, onAct = false, pour }: Props) {
  const [open, setOpen] = useState(false);
  const [amount, setAmount] = useState(step.amount ? String(step.amount.value) : "");
  const units = meta.products.find((p) => p.id === step.product_id)?.units ?? [];
  const [unit, setUnit] = useState(step.amount?.unit ?? "");
  return (
    <>
      <LinkButton onAct={onAct} aria-expanded={open} onClick={() => setOpen(!open)}>
        poured a different amount
      </LinkButton>
      {open && (
        <Flex
          flexBasis="100%"
          p="10px"
          gap="10px"
          align="end"
          bg="paper"
          color="ink"
          border="1px solid"
          borderColor="ink"
          wrap="wrap"
        >
          <Box w="100px">
            <Field label="Poured" error={error?.at("amount")}>
              {(props) => (
                <Input
                  {...props}
                  inputMode="decimal"
                  value={amount}
                  onChange={(e) => setAmount(e.target.value)}
                />
              )}
            </Field>
          </Box>
          <Box flex="1 1 120px">
            <Field label="Measure" error={error?.at("amount_unit")}>
              {(props) => (
                <Select {...props} value={unit} onChange={(e) => setUnit(e.target.value)}>
                  {units.map((u) => (
                    <option key={u.id} value={u.id}>
                      {u.label}
                    </option>
                  ))}
                </Select>
              )}
            </Field>
          </Box>
          <ActButton disabled={busy} onClick={() => pour(amount, unit)}>
            Tick off
          </ActButton>
        </Flex>
      )}
    </>
  );
}
