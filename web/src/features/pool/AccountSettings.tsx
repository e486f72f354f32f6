// What holds for every pool: the person's units, and the jugs, scoops and bags they count in.
import { Box, chakra, Flex, Grid, Text } from "@chakra-ui/react";
import { useState } from "react";

import { type OwnMeasure, type Units, useAccount, useChangeAccount } from "../../api/accounts";
import { Problem } from "../../api/client";
import { ActButton, Field, Input, LinkButton, Notice, Select } from "../../ui/controls";

const UNITS = {
  liquid: [
    ["fl_oz", "fl oz"],
    ["gal", "gal"],
    ["ml", "mL"],
    ["l", "L"],
  ],
  dry: [
    ["oz", "oz"],
    ["lb", "lb"],
    ["g", "g"],
    ["kg", "kg"],
  ],
} as const;
const NEW: OwnMeasure = { name: "", liquid: false, amount: "", unit: "oz" };

export function AccountSettings() {
  const account = useAccount();
  const change = useChangeAccount();
  const [rows, setRows] = useState<OwnMeasure[] | null>(null);
  const saved = account.data?.own_measures ?? [];
  const shown = rows ?? saved;
  const failed = change.error as Problem | null;
  const save = (part: { unit_system?: Units; own_measures?: OwnMeasure[] }) =>
    change.mutate(
      {
        unit_system: part.unit_system ?? (account.data!.unit_system as Units),
        own_measures: part.own_measures ?? saved,
        revision: account.data!.revision,
      },
      { onSuccess: () => part.own_measures && setRows(null) },
    );
  const edit = (i: number, part: Partial<OwnMeasure>) =>
    setRows(shown.map((row, at) => (at === i ? { ...row, ...part } : row)));
  if (!account.data) return null;
  return (
    <Box mb="24px" maxW="600px">
      <Box maxW="280px">
        <Field label="Units" hint="How amounts are shown. Nothing stored changes.">
          {(props) => (
            <Select
              {...props}
              value={account.data.unit_system}
              onChange={(e) => save({ unit_system: e.target.value as Units })}
            >
              <option value="us">US: gallons, lb/oz, fl oz, °F</option>
              <option value="metric">Metric: litres, kg/g, mL, °C</option>
            </Select>
          )}
        </Field>
      </Box>
      <chakra.form
        mt="16px"
        noValidate
        onSubmit={(e) => {
          e.preventDefault();
          save({ own_measures: shown });
        }}
      >
        <Text fontWeight={700} fontSize="14px">
          Your jugs, scoops, buckets and bags
        </Text>
        <Text fontSize="14px" color="muted" mb="6px">
          Plans then say an amount in them too, where halves and quarters come near.
        </Text>
        {shown.map((row, i) => {
          const at = (name: string) => failed?.at(`own_measures.${i}.${name}`);
          return (
            <Grid
              key={i}
              templateColumns={{ base: "1fr 1fr", sm: "1fr 110px 80px 90px auto" }}
              gap="8px"
              mb="8px"
              alignItems="end"
            >
              <Field label="Name" error={at("name")}>
                {(p) => (
                  <Input
                    {...p}
                    value={row.name}
                    maxLength={30}
                    placeholder="scoop"
                    onChange={(e) => edit(i, { name: e.target.value })}
                  />
                )}
              </Field>
              <Field label="For">
                {(p) => (
                  <Select
                    {...p}
                    value={row.liquid ? "liquid" : "dry"}
                    onChange={(e) => {
                      const liquid = e.target.value === "liquid";
                      edit(i, { liquid, unit: liquid ? "fl_oz" : "oz" });
                    }}
                  >
                    <option value="dry">dry</option>
                    <option value="liquid">liquid</option>
                  </Select>
                )}
              </Field>
              <Field label="Holds" error={at("amount")}>
                {(p) => (
                  <Input
                    {...p}
                    inputMode="decimal"
                    value={row.amount}
                    onChange={(e) => edit(i, { amount: e.target.value })}
                  />
                )}
              </Field>
              <Field label="Unit" error={at("unit")}>
                {(p) => (
                  <Select {...p} value={row.unit} onChange={(e) => edit(i, { unit: e.target.value })}>
                    {UNITS[row.liquid ? "liquid" : "dry"].map(([id, label]) => (
                      <option key={id} value={id}>
                        {label}
                      </option>
                    ))}
                  </Select>
                )}
              </Field>
              <LinkButton
                type="button"
                aria-label={`take out ${row.name || "this measure"}`}
                onClick={() => setRows(shown.filter((_, at) => at !== i))}
              >
                take out
              </LinkButton>
            </Grid>
          );
        })}
        <Flex gap="20px" align="center">
          {shown.length < 12 && (
            <LinkButton type="button" onClick={() => setRows([...shown, NEW])}>
              add a measure
            </LinkButton>
          )}
          {rows && (
            <ActButton type="submit" look="line" disabled={change.isPending}>
              Save measures
            </ActButton>
          )}
        </Flex>
      </chakra.form>
      {failed && (
        <Box mt="8px">
          <Notice>{failed.message}</Notice>
        </Box>
      )}
    </Box>
  );
}
