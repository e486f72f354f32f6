// How much water: typed, from the shape, or from the nearest usual size.
import { Box, Flex, Grid, Text } from "@chakra-ui/react";
import { useWatch, type UseFormReturn } from "react-hook-form";

import type { Meta } from "../../api/queries";
import { Field, Input, LinkButton, Select } from "../../ui/controls";
import { MORE, SHAPES, WAYS, type PoolForm } from "./form";

type Props = { form: UseFormReturn<PoolForm>; meta: Meta; at: (field: string) => string | undefined };

export function VolumeFields({ form, meta, at }: Props) {
  const { register, control, setValue, formState: { errors } } = form;
  const how = useWatch({ control, name: "how" });
  const hopper = useWatch({ control, name: "hopper" });
  type Size = "length" | "width" | "shallow" | "deep" | "amount" | (typeof MORE)[number];
  const size = (name: Size, label: string, hint?: string) => (
    <Field label={label} hint={hint} error={errors[name]?.message ?? at(`volume.${name}`)}>
      {(p) => <Input {...p} inputMode="decimal" {...register(name)} />}
    </Field>
  );
  const shape = SHAPES.includes(how);
  const unitSelect = (
    <Select {...register("unit")} aria-label="Unit" w="128px" flexShrink={0}>
      <option value="gal">{shape ? "feet" : "US gallons"}</option>
      <option value="l">{shape ? "metres" : "litres"}</option>
      {how === "meter" && <option value="ft3">cubic feet</option>}
      {how === "meter" && <option value="m3">cubic metres</option>}
    </Select>
  );
  return (
    <>
      <Field label="How you know the volume">
        {(p) => <Flex gap="8px"><Select {...p} {...register("how")}>{Object.entries(WAYS).map(([id, label]) => <option key={id} value={id}>{label}</option>)}</Select>{shape && unitSelect}</Flex>}
      </Field>
      {how === "typed" && <Flex gap="8px" align="start"><Box flex={1}>{size("amount", "Volume")}</Box><Box pt="24px">{unitSelect}</Box></Flex>}
      {how === "meter" && <Flex gap="8px" align="start"><Box flex={1}>{size("meter_from", "Meter before")}</Box><Box flex={1}>{size("meter_to", "and after")}</Box><Box pt="24px">{unitSelect}</Box></Flex>}
      {how === "hose" && <Flex gap="8px" align="start"><Box flex={1}>{size("rate", "A minute gives", "time a bucket")}</Box><Box flex={1}>{size("hours", "Hours to fill")}</Box><Box pt="24px">{unitSelect}</Box></Flex>}
      {how === "typical" && (
        <Field label="Nearest size" hint="A guess to start with: it is marked as one." error={errors.typical?.message ?? at("volume.typical")}>
          {(p) => <Select {...p} {...register("typical")}><option value="" disabled>choose …</option>{meta.typical_pools.map((t) => <option key={t.id} value={t.id}>{t.label}</option>)}</Select>}
        </Field>
      )}
      {shape && (
        <>
          {how === "round" ? size("length", "Across") : how === "free" ? size("length", "Length") : (
            <Flex gap="8px" align="end">
              <Box flex={1}>{size("length", "Length")}</Box><Box flex={1}>{size("width", how === "kidney" ? "Widest, shallow lobe" : "Width")}</Box>
              {how === "kidney" && <Box flex={1}>{size("width2", "Widest, other lobe")}</Box>}
            </Flex>
          )}
          {how === "free" && <Box gridColumn="1 / -1">{size("widths", "Widths at equal steps, from one end to the other", "0 where it comes to a point: 0 9 12 13 11 8 0")}</Box>}
          {how === "l" && <Flex gap="8px"><Box flex={1}>{size("leg_out", "Leg stands out")}</Box><Box flex={1}>{size("leg_along", "Leg is wide")}</Box></Flex>}
          <Flex gap="8px" align="end"><Box flex={1}>{size("shallow", "Depth of water, shallow")}</Box><Box flex={1}>{size("deep", hopper ? "Deepest" : "Deep end, if deeper")}</Box></Flex>
          <Box gridColumn="1 / -1">
            <LinkButton type="button" aria-pressed={hopper} onClick={() => setValue("hopper", !hopper)}>
              {hopper ? "the floor slopes evenly" : "the floor breaks: flat, then down to a deep part"}
            </LinkButton>
            {hopper && <Text fontSize="14px" color="muted">Distances from the shallow wall.</Text>}
          </Box>
          {hopper && (
            <Grid gridColumn="1 / -1" templateColumns={{ base: "1fr 1fr", md: "repeat(4, 1fr)" }} gap="8px">
              {size("slope_from", "Slope begins at")}{size("deep_from", "Deep begins at")}{size("deep_to", "Deep ends at")}{size("wall", "Depth at far wall")}
            </Grid>
          )}
        </>
      )}
    </>
  );
}
