// What a plan with days of its own has besides: where a step is done, its day moved, a step of one's own, photos, paper.
import { Box, Flex, Text } from "@chakra-ui/react";
import { useState } from "react";
import { Link } from "react-router";

import { type Sheet, type SheetStep, type Word } from "../../api/sheets";
import { ActButton, Field, Input, LinkButton } from "../../ui/controls";
import { Photos, Thumbs } from "../../ui/Photos";

const PLACES: Record<string, string> = { bench: "To the Bench", "clear-up": "To Clear-up" };

type Props = {
  sheet: Sheet;
  step: SheetStep;
  acts: boolean;
  ended: boolean;
  error: string | undefined;
  say: (word: Word) => void;
  /** Keep this step in view while something of it is typed. */
  stay: () => void;
};

export function PlanParts({ sheet, step, acts, ended, error, say, stay }: Props) {
  const opens = step.guide?.opens;
  return (
    <Box mt="16px">
      {acts && opens && PLACES[opens] && (
        <ActButton look="line" asChild>
          <Link to={`/${opens}`}>{PLACES[opens]}</Link>
        </ActButton>
      )}
      {step.ready && <Text mt="12px">Its day is {step.day_words}; it may be done now.</Text>}
      {!step.ready && step.state === "later" && step.waits_for.length === 0 && (
        <Text mt="12px">
          {step.measures.length > 0
            ? `From ${step.clock}: a test made earlier says nothing of the water then.`
            : `Not before ${step.clock}.`}
        </Text>
      )}
      {step.said_id && step.state === "done" && (
        <>
          {ended && <Thumbs photos={step.photos} small />}
          {!ended && <Photos photos={step.photos} owner={{ event_id: step.said_id }} />}
        </>
      )}
      {!ended && <Change key={step.key} {...{ sheet, step, error, say, stay }} />}
      <Flex gap="14px" mt="12px" fontSize="14px" wrap="wrap" className="noprint">
        {(["letter", "a4"] as const).map((size) => (
          <a
            key={size}
            href={`/api/v1/sheets/${sheet.id}/paper.pdf?size=${size}`}
            target="_blank"
            rel="noreferrer"
            style={{ textDecoration: "underline" }}
          >
            {size === "letter" ? "the plan on paper (Letter)" : "(A4)"}
          </a>
        ))}
        <Link to="/care/season" style={{ textDecoration: "underline" }}>
          the season
        </Link>
      </Flex>
    </Box>
  );
}

type ChangeProps = Pick<Props, "sheet" | "step" | "error" | "say" | "stay">;

/** Another day for the step or the whole plan, and a step of one's own behind it. */
function Change({ sheet, step, error, say, stay }: ChangeProps) {
  const [what, setWhat] = useState<"" | "step" | "plan" | "own">("");
  const [text, setText] = useState("");
  const closed = step.state === "done" || step.state === "skipped";
  const open = (next: typeof what, value: string) => {
    stay();
    setWhat(what === next ? "" : next);
    setText(value);
  };
  const send = () => {
    if (!text.trim()) return;
    if (what === "own") say({ key: step.key, verb: "add", value: text.trim() });
    else say({ key: what === "plan" ? "" : step.key, verb: "move", value: text });
    if (what === "own") setWhat("");
  };
  return (
    <Box mt="12px" className="noprint">
      <Flex gap="20px" wrap="wrap">
        {!closed && step.planned_on && (
          <LinkButton aria-expanded={what === "step"} onClick={() => open("step", step.planned_on ?? "")}>
            another day for this
          </LinkButton>
        )}
        <LinkButton aria-expanded={what === "plan"} onClick={() => open("plan", sheet.day ?? "")}>
          another day for all of it
        </LinkButton>
        <LinkButton aria-expanded={what === "own"} onClick={() => open("own", "")}>
          a step of your own
        </LinkButton>
      </Flex>
      {what && (
        <Flex
          as="form"
          gap="10px"
          align="start"
          mt="6px"
          maxW="420px"
          onSubmit={(e) => {
            e.preventDefault();
            send();
          }}
        >
          <Box flex={1}>
            <Field
              label={
                what === "own"
                  ? "Your step, after this one"
                  : what === "plan"
                    ? "The plan is for"
                    : "It is for"
              }
              error={error}
            >
              {(p) =>
                what === "own" ? (
                  <Input {...p} maxLength={80} value={text} onChange={(e) => setText(e.target.value)} />
                ) : (
                  <Input {...p} type="date" value={text} onChange={(e) => setText(e.target.value)} />
                )
              }
            </Field>
          </Box>
          <ActButton look="line" type="submit" mt="25px" disabled={!text.trim()}>
            {what === "own" ? "Add" : "Move"}
          </ActButton>
        </Flex>
      )}
    </Box>
  );
}
