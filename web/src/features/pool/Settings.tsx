// The pool's school, its own targets with their reasons, where it stands, and its fill water.
import { Box, chakra, Flex, Grid, Text } from "@chakra-ui/react";
import { useState } from "react";

import { Problem, type Schemas } from "../../api/client";
import { type Meta } from "../../api/meta";
import { type Pool, useSaveSettings } from "../../api/pools";
import { ActButton, Field, Input, LinkButton, Notice, Select } from "../../ui/controls";
import { ColumnHead } from "../../ui/Page";
import { WhyLink } from "../../ui/WhyLink";

type Values = Omit<Schemas["SettingsChange"], "revision">;
type Target = NonNullable<Values["targets"]>[string];
const FILL: [string, string][] = [
  ["ph", "pH"],
  ["ta", "Alkalinity"],
  ["ch", "Calcium"],
  ["cya", "Stabilizer"],
  ["salt", "Salt"],
  ["copper", "Copper"],
  ["iron", "Iron"],
];
const NONE: Required<Target> = { low: "", aim: "", high: "", why: "" };
const NAMES = { low: "minimum", aim: "aim", high: "maximum" } as const;

export function Settings({ pool, meta }: { pool: Pool; meta: Meta }) {
  const [values, setValues] = useState<Values>(pool.settings);
  const [open, setOpen] = useState<string[]>(Object.keys(pool.settings.targets ?? {}));
  const save = useSaveSettings(pool);
  const error = save.error as Problem | null;
  const at = (field: string) => error?.at(field);
  const change = (part: Partial<Values>) => setValues({ ...values, ...part });
  const target = (measure: string): Required<Target> => ({ ...NONE, ...values.targets?.[measure] });
  const setTarget = (measure: string, part: Partial<Target>) =>
    change({ targets: { ...values.targets, [measure]: { ...target(measure), ...part } } });
  const school = meta.schools.find((s) => s.id === values.school);
  return (
    <chakra.form
      mb="28px"
      noValidate
      onSubmit={(e) => {
        e.preventDefault();
        save.mutate(values);
      }}
    >
      <Grid
        templateColumns={{ base: "minmax(0,1fr)", lg: "minmax(0,600px) minmax(0,1fr)" }}
        gap={{ base: "28px", lg: "48px" }}
      >
        <Box>
          <ColumnHead title="Targets" note={school?.label} />
          <Box maxW="320px" mb="8px">
            <Field label="School of chlorine" error={at("school")} hint={school?.what}>
              {(p) => (
                <Select {...p} value={values.school} onChange={(e) => change({ school: e.target.value })}>
                  {meta.schools.map((s) => (
                    <option key={s.id} value={s.id}>
                      {s.label}
                    </option>
                  ))}
                </Select>
              )}
            </Field>
          </Box>
          {school?.caution && (
            <Text fontSize="14px" color="caution" mb="8px">
              {school.caution} <WhyLink reasonId={school.reason_id} />
            </Text>
          )}
          {(values.school !== pool.school || values.answers?.["sun"] !== pool.settings.answers["sun"]) && (
            <Text fontSize="14px" fontWeight={700} mb="6px">
              Still the saved targets; save to see these.
            </Text>
          )}
          {pool.targets.map((t) => {
            const mine = open.includes(t.measure);
            const own = target(t.measure);
            return (
              <Box key={t.measure} borderTop="1px solid" borderColor="hair" py="4px" fontSize="14px">
                <Flex gap="12px" align="baseline" wrap="wrap">
                  <Text w={{ base: "104px", md: "140px" }}>{t.label}</Text>
                  <Text flex="1 1 110px" fontWeight={700}>
                    {t.band}
                    {t.own !== null ? " (yours)" : ""}
                  </Text>
                  <WhyLink reasonId={t.reason_id} />
                  {t.measure !== "shock" && (
                    <LinkButton
                      type="button"
                      aria-label={mine ? `${t.label}: the school's target` : `${t.label}: change the target`}
                      onClick={() => {
                        setOpen(mine ? open.filter((m) => m !== t.measure) : [...open, t.measure]);
                        if (mine) setTarget(t.measure, NONE);
                      }}
                    >
                      {mine ? "the school's" : "change"}
                    </LinkButton>
                  )}
                </Flex>
                {t.own && !mine && <Text color="muted">{t.own}</Text>}
                {mine && (
                  <Grid
                    templateColumns={{ base: "repeat(3, 1fr)", md: "84px 84px 84px 1fr" }}
                    gap="8px"
                    py="6px"
                  >
                    {(["low", "aim", "high"] as const).map((n) => (
                      <Field key={n} label={NAMES[n]} error={at(`targets.${t.measure}.${n}`)}>
                        {(p) => (
                          <Input
                            {...p}
                            aria-label={`${t.label} ${NAMES[n]}`}
                            inputMode="decimal"
                            value={own[n]}
                            onChange={(e) => setTarget(t.measure, { [n]: e.target.value })}
                          />
                        )}
                      </Field>
                    ))}
                    <Box gridColumn={{ base: "1 / -1", md: "auto" }}>
                      <Field label="why">
                        {(p) => (
                          <Input
                            {...p}
                            aria-label={`${t.label}: why`}
                            value={own.why}
                            placeholder="the cell's manual"
                            onChange={(e) => setTarget(t.measure, { why: e.target.value })}
                          />
                        )}
                      </Field>
                    </Box>
                  </Grid>
                )}
              </Box>
            );
          })}
          <Text fontSize="14px" color="muted" mt="6px">
            {values.school === "scaled_to_stabilizer"
              ? "Free chlorine and shock for the stabilizer last read; the Bench scales them to the reading."
              : ""}
          </Text>
        </Box>
        <Box>
          <ColumnHead title="Where it stands" />
          <Grid templateColumns={{ base: "1fr", md: "1fr 1fr" }} gap="12px" mb="24px">
            {meta.settings.map(({ id, label, choices }) => (
              <Field
                key={id}
                label={label}
                error={at(`answers.${id}`)}
                hint={choices.find((c) => c.id === values.answers?.[id])?.costs ?? undefined}
              >
                {(p) => (
                  <Select
                    {...p}
                    value={values.answers?.[id]}
                    onChange={(e) => change({ answers: { ...values.answers, [id]: e.target.value } })}
                  >
                    {choices.map((c) => (
                      <option key={c.id} value={c.id}>
                        {c.label}
                      </option>
                    ))}
                  </Select>
                )}
              </Field>
            ))}
            <Field
              label="Swim in at most, ppm"
              error={at("label_fc")}
              hint="What the label of its chlorine names. Many say 4, which is used where you leave it empty."
            >
              {(p) => (
                <Input
                  {...p}
                  inputMode="decimal"
                  value={values.label_fc ?? ""}
                  onChange={(e) => change({ label_fc: e.target.value })}
                />
              )}
            </Field>
          </Grid>
          <ColumnHead title="Fill water" note="ppm" />
          <Text fontSize="14px" color="muted" mb="6px">
            Its own test, once a season: every dilution and top-up brings it in. Untested, plans take it as
            clean and say so.
          </Text>
          <Grid templateColumns={{ base: "repeat(3, 1fr)", md: "repeat(4, 1fr)" }} gap="8px">
            {FILL.map(([m, label]) => (
              <Field key={m} label={label} error={at(`fill.${m}`)}>
                {(p) => (
                  <Input
                    {...p}
                    aria-label={`Fill water ${label}`}
                    inputMode="decimal"
                    value={values.fill?.[m] ?? ""}
                    onChange={(e) => change({ fill: { ...values.fill, [m]: e.target.value } })}
                  />
                )}
              </Field>
            ))}
            <Field label={values.hose_unit === "l" ? "Hose, L/h" : "Hose, gal/h"} error={at("hose")}>
              {(p) => (
                <Input
                  {...p}
                  inputMode="decimal"
                  value={values.hose ?? ""}
                  onChange={(e) => change({ hose: e.target.value })}
                />
              )}
            </Field>
          </Grid>
          <Flex direction="column" gap="2px" mt="12px" fontSize="14px">
            <chakra.label display="inline-flex" gap="8px" alignItems="center" minH="32px">
              <input
                type="checkbox"
                checked={values.borate_allowed}
                onChange={(e) => change({ borate_allowed: e.target.checked })}
              />
              Borate may be used here
            </chakra.label>
          </Flex>
        </Box>
      </Grid>
      {error && (
        <Box mt="12px">
          <Notice>{error.message}</Notice>
        </Box>
      )}
      <Flex gap="20px" mt="20px" align="center">
        <ActButton type="submit" disabled={save.isPending}>
          Save
        </ActButton>
        {save.isSuccess && <Text role="status">Saved.</Text>}
      </Flex>
    </chakra.form>
  );
}
