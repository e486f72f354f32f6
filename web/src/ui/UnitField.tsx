// A number with its unit, kept as one text (`120 ft`), empty where no number stands.
import { Grid } from "@chakra-ui/react";

import { Field, Input, Select } from "./controls";

type Props = {
  label: string;
  units: { id: string; label: string }[];
  value: string;
  error: string | undefined;
  set: (value: string) => void;
};

export function UnitField({ label, units, value, error, set }: Props) {
  const at = value.lastIndexOf(" ");
  const [number, held] = at < 0 ? [value, ""] : [value.slice(0, at), value.slice(at + 1)];
  const unit = held || units[0]?.id || "";
  return (
    <Grid templateColumns="1fr 96px" gap="10px">
      <Field label={label} error={error}>
        {(p) => (
          <Input
            {...p}
            inputMode="decimal"
            value={number}
            onChange={(e) => set(e.target.value ? `${e.target.value} ${unit}` : "")}
          />
        )}
      </Field>
      <Field label="in">
        {(p) => (
          <Select {...p} value={unit} onChange={(e) => set(`${number} ${e.target.value}`)}>
            {units.map((u) => (
              <option key={u.id} value={u.id}>
                {u.label}
              </option>
            ))}
          </Select>
        )}
      </Field>
    </Grid>
  );
}
