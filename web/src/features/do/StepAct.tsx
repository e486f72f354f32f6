// The act of a step: one button, an answer to choose, a number to type, or a timer to start and stop.
import { Box, Flex } from "@chakra-ui/react";
import { type ReactNode, useState } from "react";
import { Link } from "react-router";

import { type SheetStep, type Word } from "../../api/sheets";
import { ActButton, Field, Input, Select } from "../../ui/controls";
import { Picks } from "./Picks";

type Props = {
  step: SheetStep;
  running: boolean;
  error: string | undefined;
  typed: Record<string, string>;
  /** Something outside its sheet keeps it waiting: what was done all the same can be told, but is not asked for. */
  held: boolean;
  say: (word: Word) => void;
  /** A choice that may begin another sheet, by its subject. */
  decide: (value: string, then: string) => void;
  pour: () => void;
};

const QUIET = { bg: "paper", color: "ink", borderColor: "ink" };
const LINE = {
  ...QUIET,
  minH: "52px",
  fontSize: "16px",
  borderWidth: "0 0 1px 0",
  justifyContent: "flex-start",
} as const;

/** More than two answers, one under another. */
const Stack = ({ children }: { children: ReactNode }) => (
  <Flex direction="column" bg="paper" borderTop={{ base: "2px solid", lg: "none" }} borderColor="ink">
    {children}
  </Flex>
);

/** What closes this step. On a phone it is the bar at the foot. */
export function StepAct({ step, running, error, typed, held, say, decide, pour }: Props) {
  const { plan, guide } = step;
  if (plan) {
    if (plan.kind === "retest")
      return (
        <ActButton look="bar" asChild>
          <Link to="/bench">Type the test</Link>
        </ActButton>
      );
    return (
      <ActButton look="bar" {...(held ? QUIET : {})} onClick={pour}>
        {plan.amount ? `Poured ${plan.amount.text}` : "Done"}
        {held && " all the same"}
      </ActButton>
    );
  }
  if (!guide) return null;
  const answer = (value: string) => say({ key: step.key, verb: "answer", value });
  if (guide.kind === "timer" && !running && step.ends_at === null)
    return (
      <ActButton look="bar" onClick={() => say({ key: step.key, verb: "timer" })}>
        Start {guide.minutes < 1 ? `${guide.minutes * 60} seconds` : `${guide.minutes} min`}
      </ActButton>
    );
  if (guide.kind === "timer")
    return (
      <ActButton look="bar" onClick={() => answer("done")}>
        {guide.until ? `Now: ${guide.until}` : "Enough"}
      </ActButton>
    );
  if (guide.kind === "look" && guide.text)
    return <TextAct key={step.key} name={step.key} {...{ guide, error, typed, answer }} />;
  if (guide.kind === "look" && guide.many) return <Picks key={step.key} guide={guide} answer={answer} />;
  if (guide.kind === "decide" && guide.choices.length > 2)
    return (
      <Stack>
        {guide.choices.map(([id, label, then]) => (
          <ActButton key={id} look="bar" {...LINE} onClick={() => decide(id!, then ?? "")}>
            {label}
          </ActButton>
        ))}
      </Stack>
    );
  if (guide.kind === "decide")
    return (
      <Flex>
        {guide.choices.map(([id, label, then], i) => (
          <Box key={id} flex={1}>
            <ActButton look="bar" h="100%" {...(i ? QUIET : {})} onClick={() => decide(id!, then ?? "")}>
              {label}
            </ActButton>
          </Box>
        ))}
      </Flex>
    );
  if (guide.kind === "look" && guide.units.length > 0)
    return <NumberAct key={step.key} name={step.key} {...{ guide, error, typed, answer }} />;
  if (guide.kind === "look" && guide.choices.length > 2)
    return (
      <Stack>
        {guide.choices.map(([id, label]) => (
          <ActButton key={id} look="bar" {...LINE} onClick={() => answer(id!)}>
            {label}
          </ActButton>
        ))}
      </Stack>
    );
  if (guide.kind === "look")
    return (
      <Flex>
        {guide.choices.map(([id, label], i) => (
          <Box key={id} flex={1}>
            <ActButton look="bar" h="100%" {...(i ? QUIET : {})} onClick={() => answer(id!)}>
              {label}
            </ActButton>
          </Box>
        ))}
      </Flex>
    );
  return (
    <ActButton look="bar" {...(held ? QUIET : {})} onClick={() => answer("done")}>
      {held ? "Done all the same" : "Done"}
    </ActButton>
  );
}

type NumberProps = {
  guide: NonNullable<SheetStep["guide"]>;
  error: string | undefined;
  name: string;
  /** What was typed at each step: kept while an answer is on its way, in case it is refused. */
  typed: Record<string, string>;
  answer: (value: string) => void;
};

/** An answer in one's own words: where a part lies, a note; what it was before stands there already. */
function TextAct({ guide, error, name, typed, answer }: NumberProps) {
  const [text, setText] = useState(typed[name] ?? guide.suggested);
  return (
    <Box as="form" onSubmit={(e) => (e.preventDefault(), text.trim() && answer(text.trim()))}>
      <Box px="16px" py="10px" bg="paper" borderTop="2px solid" borderColor="ink">
        <Field label={guide.question} error={error}>
          {(p) => (
            <Input
              {...p}
              fontSize="20px"
              h="56px"
              maxLength={200}
              value={text}
              onChange={(e) => setText((typed[name] = e.target.value))}
            />
          )}
        </Field>
      </Box>
      <ActButton look="bar" type="submit" disabled={!text.trim()}>
        {guide.part ? "Done, it lies there" : "Note it"}
      </ActButton>
    </Box>
  );
}

function NumberAct({ guide, error, name, typed, answer }: NumberProps) {
  const [number, asked] = guide.suggested.split(" ");
  const [text, setText] = useState(typed[name] ?? number ?? "");
  const [unit, setUnit] = useState(asked ?? guide.units[0]?.[0] ?? "");
  const word = guide.units.find(([id]) => id === unit)?.[1] ?? unit;
  return (
    <Box as="form" onSubmit={(e) => (e.preventDefault(), text.trim() && answer(`${text.trim()} ${unit}`))}>
      <Flex gap="10px" align="end" px="16px" py="10px" bg="paper" borderTop="2px solid" borderColor="ink">
        <Box flex={1}>
          <Field label={guide.question} error={error}>
            {(p) => (
              <Input
                {...p}
                inputMode="decimal"
                fontSize="28px"
                h="56px"
                value={text}
                onChange={(e) => setText((typed[name] = e.target.value))}
              />
            )}
          </Field>
        </Box>
        <Box w="96px">
          <Field label="in">
            {(p) => (
              <Select {...p} h="56px" value={unit} onChange={(e) => setUnit(e.target.value)}>
                {guide.units.map(([id, label]) => (
                  <option key={id} value={id}>
                    {label}
                  </option>
                ))}
              </Select>
            )}
          </Field>
        </Box>
      </Flex>
      <ActButton look="bar" type="submit" disabled={!text.trim()}>
        {text.trim() ? `${guide.question}: ${text.trim()} ${word}` : "Type what it says"}
      </ActButton>
    </Box>
  );
}
