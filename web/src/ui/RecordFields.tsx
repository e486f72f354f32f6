// The fields of a record (a piece of equipment, an entry of the log) as the API describes them; empty is unknown.
import { Flex, Text } from "@chakra-ui/react";

import { type Schemas } from "../api/client";
import { Field, Input, Select } from "./controls";

export type Details = Record<string, { text: string; unit: string }>;
type Props = {
  fields: Schemas["FieldMeta"][];
  details: Details;
  at: (field: string) => string | undefined;
  change: (details: Details) => void;
  first?: boolean;
};

export function RecordFields({ fields, details, at, change, first }: Props) {
  return fields.map((f, i) => {
    const usual = f.units[0]?.id ?? "";
    const mine = { text: "", unit: usual, ...details[f.id] };
    const set = (part: { text?: string; unit?: string }) =>
      change({ ...details, [f.id]: { ...mine, ...part } });
    const focus = { autoFocus: !!first && i === 0 };
    return (
      <Field key={f.id} label={f.label} error={at(`details.${f.id}`)}>
        {(p) =>
          f.kind === "choice" ? (
            <Select {...p} {...focus} value={mine.text} onChange={(e) => set({ text: e.target.value })}>
              <option value="">unknown</option>
              {f.choices.map((c) => (
                <option key={c.id} value={c.id}>
                  {c.label}
                </option>
              ))}
            </Select>
          ) : f.kind === "date" ? (
            <Input
              {...p}
              {...focus}
              type="date"
              value={mine.text}
              onChange={(e) => set({ text: e.target.value })}
            />
          ) : (
            <Flex gap="4px" align="center">
              <Input
                {...p}
                {...focus}
                inputMode="decimal"
                minW="64px"
                value={mine.text}
                onChange={(e) => set({ text: e.target.value })}
              />
              {f.units.length > 1 ? (
                <Select
                  aria-label={`Unit of ${f.label.toLowerCase()}`}
                  w="auto"
                  maxW="132px"
                  px="6px"
                  fontSize="14px"
                  flexShrink={0}
                  value={mine.unit}
                  onChange={(e) => set({ unit: e.target.value })}
                >
                  {f.units.map((u) => (
                    <option key={u.id} value={u.id}>
                      {u.label}
                    </option>
                  ))}
                </Select>
              ) : (
                <Text fontSize="14px" color="muted">
                  {f.units[0]?.label}
                </Text>
              )}
            </Flex>
          )
        }
      </Field>
    );
  });
}
