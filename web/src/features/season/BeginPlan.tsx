// The way into a season's plan: its day, and the few things it is asked by.
import { Box, chakra, Grid } from "@chakra-ui/react";
import { useRef, useState } from "react";
import { useNavigate } from "react-router";
import { v7 as uuid } from "uuid";

import { type Problem } from "../../api/client";
import { type Question, useBeginPlan } from "../../api/seasons";
import { ActButton, Field, Input, Notice, Select } from "../../ui/controls";
import { UnitField } from "../../ui/UnitField";

type Props = {
  poolId: string;
  subject: string;
  label: string;
  day: string;
  questions: Question[];
  quiet?: boolean;
};

export function BeginPlan({ poolId, subject, label, day, questions, quiet }: Props) {
  const begin = useBeginPlan(poolId);
  const go = useNavigate();
  const id = useRef(uuid());
  const [on, setOn] = useState(day);
  const [given, setGiven] = useState<Record<string, string>>({});
  const error = begin.error as Problem | null;
  const asked = questions.filter((q) => q.subject === subject && (!q.asks_if || given[q.asks_if] === "yes"));
  const start = () =>
    void begin.mutateAsync({ id: id.current, subject, day: on, given }).then(
      (sheet) => {
        id.current = uuid();
        return go(`/do/${sheet.id}`);
      },
      () => undefined, // told below
    );
  return (
    <chakra.form onSubmit={(e) => (e.preventDefault(), start())} className="noprint">
      <Grid gap="12px" maxW="420px">
        <Field label="The day" error={error?.at("day")}>
          {(p) => <Input {...p} type="date" value={on} onChange={(e) => setOn(e.target.value)} />}
        </Field>
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
      <Box mt="14px">
        <ActButton type="submit" look={quiet ? "line" : "solid"} disabled={begin.isPending}>
          {label}
        </ActButton>
      </Box>
      {error && !asked.some((q) => error.at(q.id)) && !error.at("day") && <Notice>{error.message}</Notice>}
    </chakra.form>
  );
}

type AskedProps = {
  question: Question;
  value: string;
  error: string | undefined;
  set: (value: string) => void;
};

/** A choice, or a length with its unit. */
function Asked({ question, value, error, set }: AskedProps) {
  if (question.units.length > 0) {
    const units = question.units.map((id) => ({ id, label: id }));
    return <UnitField label={question.label} {...{ units, value, error, set }} />;
  }
  return (
    <Field label={question.label} error={error}>
      {(p) => (
        <Select {...p} value={value || question.choices[0]?.id} onChange={(e) => set(e.target.value)}>
          {question.choices.map((c) => (
            <option key={c.id} value={c.id}>
              {c.label}
            </option>
          ))}
        </Select>
      )}
    </Field>
  );
}
