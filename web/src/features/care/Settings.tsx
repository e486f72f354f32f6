// How the pool is looked after: the cadence, the time there is, the season, the schools of the weekly clean.
import { Box, chakra, Flex, Grid, Text } from "@chakra-ui/react";
import { useState } from "react";

import { type Care, useSaveCare } from "../../api/care";
import { type Problem } from "../../api/client";
import { ActButton, Field, Input, Notice, Select } from "../../ui/controls";
import { WhyLink } from "../../ui/WhyLink";

export function Settings({ care }: { care: Care }) {
  const [chosen, set] = useState(care.chosen);
  const [minutes, setMinutes] = useState(care.chosen.minutes ? String(care.chosen.minutes) : "");
  const save = useSaveCare(care.pool_id);
  const error = save.error as Problem | null;
  const what = care.cadences.find((c) => c.id === chosen.cadence)?.what;
  const pick = (
    name: "shock" | "test_when" | "order" | "filter_by",
    label: string,
    options: Care["shocks"],
    usual: string,
  ) => (
    <Field label={label} error={error?.at(name)}>
      {(p) => (
        <Select {...p} value={chosen[name]} onChange={(e) => set({ ...chosen, [name]: e.target.value })}>
          <option value="">{usual}</option>
          {options.map((o) => (
            <option key={o.id} value={o.id}>
              {o.label}
            </option>
          ))}
        </Select>
      )}
    </Field>
  );
  return (
    <chakra.form
      onSubmit={(e) => {
        e.preventDefault();
        save.mutate({ ...chosen, minutes: Number(minutes) || 0, revision: care.revision });
      }}
    >
      <Grid templateColumns={{ base: "1fr", sm: "1fr 1fr" }} gap="12px">
        <Field label="Who comes, how often" error={error?.at("cadence")}>
          {(p) => (
            <Select
              {...p}
              value={chosen.cadence}
              onChange={(e) => set({ ...chosen, cadence: e.target.value })}
            >
              {care.cadences.map((c) => (
                <option key={c.id} value={c.id}>
                  {c.label}
                </option>
              ))}
            </Select>
          )}
        </Field>
        <Field
          label="Minutes there are for a visit"
          error={error?.at("minutes")}
          hint={`Now planned with ${care.has_minutes}.`}
        >
          {(p) => (
            <Input
              {...p}
              inputMode="numeric"
              placeholder={String(care.has_minutes)}
              value={minutes}
              onChange={(e) => setMinutes(e.target.value)}
            />
          )}
        </Field>
        <Text gridColumn="1 / -1" fontSize="14px" color="muted">
          {what} Nobody is reminded beyond this, except after rain, heavy use, fresh water or a storm.{" "}
          <WhyLink reasonId="care_tests" />
        </Text>
        <Field label="In use from (month-day)" error={error?.at("season_from")} hint="Empty: all year.">
          {(p) => (
            <Input
              {...p}
              placeholder="04-15"
              value={chosen.season_from}
              onChange={(e) => set({ ...chosen, season_from: e.target.value })}
            />
          )}
        </Field>
        <Field label="to" error={error?.at("season_to")}>
          {(p) => (
            <Input
              {...p}
              placeholder="10-15"
              value={chosen.season_to}
              onChange={(e) => set({ ...chosen, season_to: e.target.value })}
            />
          )}
        </Field>
        {pick("shock", "Routine shock", care.shocks, "as its chlorine school has it")}
        {pick("test_when", "The test comes", care.tests_when, "as is usual")}
        {pick("order", "The clean goes", care.orders, "as is usual")}
        {pick("filter_by", "The filter is cleaned", care.filters_by, "as is usual")}
      </Grid>
      {error &&
        !["cadence", "minutes", "season_from", "season_to", "shock", "test_when", "order", "filter_by"].some(
          (n) => error.at(n),
        ) && (
          <Box mt="10px">
            <Notice>{error.message}</Notice>
          </Box>
        )}
      <Flex gap="16px" align="center" mt="12px">
        <ActButton type="submit" look="line" disabled={save.isPending}>
          Keep
        </ActButton>
        {save.isSuccess && <Text role="status">Kept. The work follows.</Text>}
      </Flex>
    </chakra.form>
  );
}
