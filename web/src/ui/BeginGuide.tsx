// The way into a machine's guide; asks for what the pool's equipment does not say.
import { Box, chakra, Grid } from "@chakra-ui/react";
import { useRef, useState } from "react";
import { useNavigate } from "react-router";
import { v7 as uuid } from "uuid";

import { type Problem, type Schemas } from "../api/client";
import { useMeta } from "../api/meta";
import { type Given, useBeginGuide } from "../api/sheets";
import { ActButton, Field, LinkButton, Notice, Select } from "./controls";
import { UnitField } from "./UnitField";

export const CLEAN_FILTER = "Clean the filter, step by step";

type Question = Schemas["GuideQuestionMeta"];

type Props = {
  poolId: string;
  subject: string;
  label: string;
  /** A sheet that this one takes over from. */
  insteadOf?: string | undefined;
  /** Said before the way to the guide is taken. */
  begun?: () => void;
  /** Ask at once for what the equipment does not say. */
  asking?: Problem | null;
  look?: "link" | "line";
};

export function BeginGuide({ poolId, subject, label, insteadOf, begun, asking, look = "link" }: Props) {
  const begin = useBeginGuide(poolId);
  const questions = useMeta().data?.guide_questions ?? [];
  const go = useNavigate();
  const id = useRef(uuid());
  const [given, setGiven] = useState<Given>({});
  const error = (begin.error ?? asking ?? null) as Problem | null;
  const start = () =>
    void begin.mutateAsync({ id: id.current, subject, given, ...(insteadOf ? { insteadOf } : {}) }).then(
      (sheet) => {
        id.current = uuid();
        begun?.();
        return go(`/do/${sheet.id}`);
      },
      () => undefined, // told below
    );
  const open = (q: Question) => error?.at(q.id) || given[q.id];
  // What belongs together is asked together: a bath's container, its strength, its acid.
  const bath = questions.some((q) => q.units.length > 0 && open(q));
  const asked = questions.filter((q) => open(q) || (bath && (q.id === "parts" || q.id === "acid")));
  const told = error && !asked.some((q) => error.at(q.id)) && !Object.values(given).some(Boolean);
  return (
    <Box maxW="420px" className="noprint">
      {asked.length > 0 ? (
        <chakra.form onSubmit={(e) => (e.preventDefault(), start())}>
          <Grid gap="12px">
            {asked.map((q) => (
              <Asked
                key={q.id}
                question={q}
                value={given[q.id] ?? ""}
                error={error?.at(q.id)}
                set={(value) => setGiven({ ...given, [q.id]: value })}
              />
            ))}
          </Grid>
          <ActButton type="submit" disabled={begin.isPending} mt="12px">
            Begin
          </ActButton>
        </chakra.form>
      ) : look === "line" ? (
        <ActButton look="line" type="button" disabled={begin.isPending} onClick={start}>
          {label}
        </ActButton>
      ) : (
        <LinkButton type="button" disabled={begin.isPending} onClick={start}>
          {label}
        </LinkButton>
      )}
      {error && (told || !asked.some((q) => error.at(q.id))) && <Notice>{error.message}</Notice>}
    </Box>
  );
}

type AskedProps = {
  question: Question;
  value: string;
  error: string | undefined;
  set: (value: string) => void;
};

/** One thing the equipment did not say: a choice, or a number with its unit. */
function Asked({ question, value, error, set }: AskedProps) {
  if (question.units.length > 0)
    return <UnitField label={question.label} units={question.units} {...{ value, error, set }} />;
  return (
    <Field label={question.label} error={value ? undefined : error}>
      {(p) => (
        <Select {...p} value={value} onChange={(e) => set(e.target.value)}>
          <option value="">{error ? "choose" : question.choices[0]?.label}</option>
          {question.choices.slice(error ? 0 : 1).map((c) => (
            <option key={c.id} value={c.id}>
              {c.label}
            </option>
          ))}
        </Select>
      )}
    </Field>
  );
}
