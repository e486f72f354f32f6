// How much water: typed, from the shape, or from the nearest usual size.
import { Box, Flex } from "@chakra-ui/react";
import { useWatch, type UseFormReturn } from "react-hook-form";

import type { Meta } from "../../api/queries";
import { Field, Input, Select } from "../../ui/controls";
import { WAYS, type PoolForm } from "./form";

type Props = { form: UseFormReturn<PoolForm>; meta: Meta; at: (field: string) => string | undefined };

export function VolumeFields({ form, meta, at }: Props) {
  const { register, control, formState: { errors } } = form;
  const how = useWatch({ control, name: "how" });
  const size = (name: "length" | "width" | "shallow" | "deep" | "amount", label: string, hint?: string) => (
    <Field label={label} hint={hint} error={errors[name]?.message ?? at(`volume.${name}`)}>
      {(p) => <Input {...p} inputMode="decimal" {...register(name)} />}
    </Field>
  );
  const shape = how === "rectangle" || how === "round" || how === "oval";
  const unitSelect = (
    <Select {...register("unit")} aria-label="Unit" w="128px" flexShrink={0}>
      <option value="gal">{shape ? "feet" : "US gallons"}</option>
      <option value="l">{shape ? "metres" : "litres"}</option>
    </Select>
  );
  return (
    <>
      <Field label="How you know the volume">
        {(p) => <Flex gap="8px"><Select {...p} {...register("how")}>{Object.entries(WAYS).map(([id, label]) => <option key={id} value={id}>{label}</option>)}</Select>{shape && unitSelect}</Flex>}
      </Field>
      {how === "typed" && <Flex gap="8px" align="start"><Box flex={1}>{size("amount", "Volume")}</Box><Box pt="24px">{unitSelect}</Box></Flex>}
      {how === "typical" && (
        <Field label="Nearest size" hint="A guess to start with: it is marked as one." error={errors.typical?.message ?? at("volume.typical")}>
          {(p) => <Select {...p} {...register("typical")}><option value="" disabled>choose …</option>{meta.typical_pools.map((t) => <option key={t.id} value={t.id}>{t.label}</option>)}</Select>}
        </Field>
      )}
      {shape && (
        <>
          {how === "round" ? size("length", "Across") : <Flex gap="8px"><Box flex={1}>{size("length", "Length")}</Box><Box flex={1}>{size("width", "Width")}</Box></Flex>}
          <Flex gap="8px"><Box flex={1}>{size("shallow", "Water depth, shallow end")}</Box><Box flex={1}>{size("deep", "Deep end", "empty if level")}</Box></Flex>
        </>
      )}
    </>
  );
}
