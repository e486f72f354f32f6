// A step of the plan on the Bench, with what may be done otherwise.
import { lazy, memo, Suspense } from "react";

import { type Meta } from "../../api/meta";
import { type PlanData, type Step } from "../../api/plans";
import { LinkButton } from "../../ui/controls";
import { RailRow } from "../../ui/Rail";
import { Swap } from "./Swap";
import type { Draft } from "./useDraft";

// Drawn when *why* is opened.
const CarbonMap = lazy(async () => ({ default: (await import("./CarbonMap")).CarbonMap }));

type StepProps = {
  step: Step;
  next: boolean;
  meta: Meta;
  choose: (role: string, choice: Draft["products"][string] | null) => void;
  drainLater: () => void;
  error: string | undefined;
  map: PlanData["carbon_map"];
};

/** A step with its swap. Renders when its own step changes: unchanged ones keep their identity from answer to answer. */
export const BenchStep = memo(
  function BenchStep({ step, next, meta, choose, drainLater, error, map }: StepProps) {
    return (
      <RailRow
        step={step}
        next={next}
        picture={
          map && (
            <Suspense>
              <CarbonMap map={map} stepKey={step.key} />
            </Suspense>
          )
        }
        actions={
          <>
            {step.product_id && step.role !== "lower_fc" && (
              <Swap step={step} meta={meta} onAct={next} error={error} choose={choose} />
            )}
            {step.kind === "wait" && (
              <LinkButton
                onAct={next}
                onClick={() => choose("lower_fc", { product_id: "thiosulfate", strength: null })}
              >
                neutralise instead
              </LinkButton>
            )}
            {step.kind === "dilute" && (
              <LinkButton onAct={next} onClick={drainLater}>
                not now
              </LinkButton>
            )}
            {step.role === "lower_fc" && (
              <LinkButton onAct={next} onClick={() => choose("lower_fc", null)}>
                wait instead
              </LinkButton>
            )}
          </>
        }
      />
    );
  },
  (a, b) =>
    a.next === b.next &&
    a.meta === b.meta &&
    a.choose === b.choose &&
    a.drainLater === b.drainLater &&
    a.error === b.error &&
    a.map === b.map &&
    shows(a.step) === shows(b.step),
);

/** What of a step is seen: its instant moves with every answer, and says nothing that the clock's words do not. */
const shows = (step: Step) => JSON.stringify({ ...step, at: null });
