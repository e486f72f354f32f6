// How much water: the shape and its sizes, the number, a meter, a hose, or the nearest usual size.
import { Box, chakra, Flex, Grid, Text } from "@chakra-ui/react";
import { useWatch, type UseFormReturn } from "react-hook-form";

import { type Meta } from "../../api/meta";
import { Field, Input, LinkButton, Select } from "../../ui/controls";
import { MORE, SHAPES, WAYS, type PoolForm } from "./form";

type Props = {
  form: UseFormReturn<PoolForm>;
  meta: Meta;
  at: (field: string) => string | undefined;
  result: React.ReactNode;
};

// The outlines as one would draw them on an envelope.
const OUTLINES: Record<string, string> = {
  rectangle: "M4 6H52V26H4Z",
  round: "M28 3a13 13 0 1 0 .01 0Z",
  oval: "M28 4C44 4 53 10 53 16S44 28 28 28 3 22 3 16 12 4 28 4Z",
  kidney: "M13 4C20 3 23 9 29 9S38 3 44 5C53 8 55 20 48 26C40 31 18 30 9 25C1 19 3 6 13 4Z",
  l: "M4 28H52V4H36V14H4Z",
  free: "M6 18C4 8 14 3 22 6S34 2 42 5C52 8 54 18 47 23S36 23 30 27 9 29 6 18Z",
};
const Way = chakra("button", {
  base: {
    minH: "44px",
    px: "8px",
    py: "6px",
    fontSize: "14px",
    cursor: "pointer",
    borderRadius: "mark",
    border: "1px solid",
    borderColor: "hair",
    bg: "transparent",
    color: "ink",
    display: "flex",
    flexDirection: "column",
    alignItems: "center",
    justifyContent: "center",
    gap: "4px",
    "&[aria-checked=true]": {
      borderColor: "ink",
      boxShadow: "inset 0 0 0 1px var(--chakra-colors-ink)",
      fontWeight: 700,
    },
  },
});

export function VolumeFields({ form, meta, at, result }: Props) {
  const {
    register,
    control,
    setValue,
    formState: { errors },
  } = form;
  const [how, hopper, solids] = useWatch({ control, name: ["how", "hopper", "solids"] });
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
  const row = (...fields: React.ReactNode[]) => (
    <Grid
      gridColumn="1 / -1"
      templateColumns={{ base: "1fr 1fr", md: "repeat(4, 1fr)" }}
      gap="8px"
      alignItems="end"
    >
      {fields}
    </Grid>
  );
  function move(e: React.KeyboardEvent) {
    const ways = Object.keys(WAYS);
    const step =
      e.key === "ArrowRight" || e.key === "ArrowDown"
        ? 1
        : e.key === "ArrowLeft" || e.key === "ArrowUp"
          ? -1
          : 0;
    if (!step) return;
    e.preventDefault();
    const next = ways[(ways.indexOf(how) + step + ways.length) % ways.length]!;
    setValue("how", next);
    (e.currentTarget.querySelector(`[data-way=${next}]`) as HTMLElement | null)?.focus();
  }
  const way = (id: string) => (
    <Way
      key={id}
      type="button"
      role="radio"
      data-way={id}
      aria-checked={how === id}
      tabIndex={how === id ? 0 : -1}
      onClick={() => setValue("how", id)}
    >
      {OUTLINES[id] && (
        <svg viewBox="0 0 56 32" width="56" height="32" aria-hidden>
          <path
            d={OUTLINES[id]}
            fill="var(--chakra-colors-channel)"
            stroke="currentColor"
            strokeWidth="1.5"
          />
        </svg>
      )}
      {WAYS[id]}
    </Way>
  );
  return (
    <Box gridColumn="1 / -1">
      <Text id="ways" fontSize="14px" fontWeight={700} mb="4px">
        How much water it holds
      </Text>
      <Text fontSize="14px" color="muted" mb="8px">
        Choose its shape and measure it in steps or by tape; or say what else you know.
      </Text>
      <Box role="radiogroup" aria-labelledby="ways" onKeyDown={move} mb="14px">
        <Grid templateColumns={{ base: "repeat(3, 1fr)", md: "repeat(6, 1fr)" }} gap="6px" mb="6px">
          {SHAPES.map(way)}
        </Grid>
        <Grid templateColumns={{ base: "1fr 1fr", md: "repeat(4, 1fr)" }} gap="6px">
          {Object.keys(WAYS)
            .filter((w) => !SHAPES.includes(w))
            .map(way)}
        </Grid>
      </Box>
      <Grid templateColumns={{ base: "1fr", md: "1fr 1fr" }} gap="12px 16px">
        {how === "typed" && (
          <>
            <Flex gap="8px" align="start">
              <Box flex={1}>{size("amount", "Volume")}</Box>
              <Box pt="24px">{unitSelect}</Box>
            </Flex>
            <Field label="Where the number is from">
              {(p) => (
                <Select {...p} {...register("sure")}>
                  <option value="papers">papers, or the builder</option>
                  <option value="proved">metered or proved</option>
                  <option value="guess">a guess</option>
                </Select>
              )}
            </Field>
          </>
        )}
        {how === "meter" && (
          <Flex gap="8px" align="start">
            <Box flex={1}>{size("meter_from", "Meter before")}</Box>
            <Box flex={1}>{size("meter_to", "and after")}</Box>
            <Box pt="24px">{unitSelect}</Box>
          </Flex>
        )}
        {how === "hose" && (
          <Flex gap="8px" align="start">
            <Box flex={1}>{size("rate", "A minute gives", "time a bucket")}</Box>
            <Box flex={1}>{size("hours", "Hours to fill")}</Box>
            <Box pt="24px">{unitSelect}</Box>
          </Flex>
        )}
        {how === "typical" && (
          <Field
            label="Nearest size"
            hint="A guess to start with: it is marked as one."
            error={errors.typical?.message ?? at("volume.typical")}
          >
            {(p) => (
              <Select {...p} {...register("typical")}>
                <option value="" disabled>
                  choose …
                </option>
                {meta.typical_pools.map((t) => (
                  <option key={t.id} value={t.id}>
                    {t.label}
                  </option>
                ))}
              </Select>
            )}
          </Field>
        )}
      </Grid>
      {shape && (
        <Grid gap="12px">
          {row(
            <Box key="l">{size("length", how === "round" ? "Across" : "Length")}</Box>,
            how !== "round" && how !== "free" && (
              <Box key="w">{size("width", how === "kidney" ? "Shallow lobe, wide" : "Width")}</Box>
            ),
            how === "kidney" && <Box key="w2">{size("width2", "Other lobe, wide")}</Box>,
            how === "l" && <Box key="lo">{size("leg_out", "Leg stands out")}</Box>,
            how === "l" && <Box key="la">{size("leg_along", "Leg is wide")}</Box>,
            <Box key="s">{size("shallow", "Water, shallow end")}</Box>,
            <Box key="d">{size("deep", hopper ? "Deepest" : "Deep, if deeper")}</Box>,
          )}
          {how === "free" &&
            size(
              "widths",
              "Widths at equal steps, from one end to the other",
              "0 where it comes to a point, spaces between: 0 9 12 13 11 8 0",
            )}
          {hopper &&
            row(
              <Box key="1">{size("slope_from", "Slope begins at")}</Box>,
              <Box key="2">{size("deep_from", "Deep begins at")}</Box>,
              <Box key="3">{size("deep_to", "Deep ends at")}</Box>,
              <Box key="4">{size("wall", "Depth, far wall")}</Box>,
            )}
          {solids &&
            row(
              <Box key="1">{size("steps_along", "Steps, along wall")}</Box>,
              <Box key="2">{size("steps_out", "Steps, out")}</Box>,
              <Box key="3">{size("steps_high", "Steps, high")}</Box>,
              <Box key="4">{size("steps_count", "How many")}</Box>,
              <Box key="5">{size("bench_along", "Bench, along wall")}</Box>,
              <Box key="6">{size("bench_out", "Bench, out")}</Box>,
              <Box key="7">{size("bench_high", "Bench, high")}</Box>,
            )}
          <Flex gap="0 20px" wrap="wrap" align="center">
            <Box>{unitSelect}</Box>
            <LinkButton type="button" aria-pressed={hopper} onClick={() => setValue("hopper", !hopper)}>
              {hopper ? "the floor slopes evenly" : "the floor breaks: flat, then a deep part"}
            </LinkButton>
            <LinkButton type="button" aria-pressed={solids} onClick={() => setValue("solids", !solids)}>
              {solids ? "no steps or bench" : "take off steps or a bench"}
            </LinkButton>
          </Flex>
          {hopper && (
            <Text fontSize="14px" color="muted" mt="-8px">
              Distances from the shallow wall.
            </Text>
          )}
        </Grid>
      )}
      {result && <Box mt="16px">{result}</Box>}
    </Box>
  );
}
