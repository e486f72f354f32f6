// Every duty of the pool: how it comes round and why; changed, turned off, added.
import { Box, chakra, Flex, Grid, Text } from "@chakra-ui/react";
import { useRef, useState } from "react";
import { v7 as uuid } from "uuid";

import { type Care, type Repeat, type Task, useAddTask, useChangeTask, useRemoveTask } from "../../api/care";
import { type Problem } from "../../api/client";
import { ActButton, Field, Input, LinkButton, Notice, Select } from "../../ui/controls";
import { WhyLink } from "../../ui/WhyLink";

const EMPTY: Repeat = {
  anchor: "",
  days: 0,
  every: null,
  on: "",
  hours: 0,
  season_from: "",
  season_to: "",
  clock: "",
};

export function Tasks({ care, poolId }: { care: Care; poolId: string }) {
  const [open, setOpen] = useState<string | null>(null);
  const shown = care.tasks.filter((t) => !(t.anchor === "once" && t.state === "none"));
  return (
    <Box>
      {shown.map((task) => (
        <Box key={task.id} borderTop="1px solid" borderColor="hair" py="10px">
          <Grid
            templateColumns={{ base: "minmax(0,1fr) auto", md: "minmax(0,1fr) 150px 110px" }}
            gap="0 16px"
            alignItems="baseline"
          >
            <Text fontWeight={700} color={task.off ? "muted" : "ink"}>
              {task.title}
              {task.off && ", turned off"}
            </Text>
            <Text
              fontSize="14px"
              textAlign={{ base: "right", md: "left" }}
              fontWeight={task.state === "overdue" ? 700 : 400}
            >
              {task.when}
            </Text>
            <Box gridColumn={{ base: "1 / -1", md: "auto" }} textAlign={{ md: "right" }}>
              <LinkButton
                aria-expanded={open === task.id}
                onClick={() => setOpen(open === task.id ? null : task.id)}
              >
                {open === task.id ? "fold" : "change"}
              </LinkButton>
            </Box>
            <Text gridColumn="1 / -1" fontSize="14px" color="muted">
              {task.anchor === "completion" || task.anchor === "calendar" ? "" : `${task.every}. `}
              {task.why}
              {task.own && !task.mine ? " As you set it." : ""} <WhyLink reasonId={task.reason_id} />
            </Text>
          </Grid>
          {open === task.id && <Change key={task.id} task={task} close={() => setOpen(null)} />}
        </Box>
      ))}
      <Add poolId={poolId} />
    </Box>
  );
}

function Change({ task, close }: { task: Task; close: () => void }) {
  const change = useChangeTask();
  const remove = useRemoveTask();
  const [season_from, season_to] = task.season ? task.season.split("/") : ["", ""];
  const [repeat, setRepeat] = useState<Repeat>({
    ...EMPTY,
    anchor: task.anchor === "adaptive" ? "" : task.anchor,
    days: task.days || 7,
    every: task.rrule ? fromRule(task.rrule) : null,
    on: task.on,
    hours: task.hours || 200,
    season_from: season_from!,
    season_to: season_to!,
  });
  const error = (change.error ?? remove.error) as Problem | null;
  const save = (on: boolean, as: Repeat) =>
    void change
      .mutateAsync({ id: task.id, repeat: as, on, revision: task.revision })
      .then(close, () => undefined);
  return (
    <chakra.form
      maxW="560px"
      py="10px"
      onSubmit={(e) => {
        e.preventDefault();
        save(true, repeat);
      }}
    >
      <RepeatFields repeat={repeat} set={setRepeat} error={error} rule={!task.mine} />
      {error && !KNOWN.some((name) => error.at(name)) && <Notice>{error.message}</Notice>}
      <Flex gap="16px" mt="12px" wrap="wrap" align="center">
        <ActButton type="submit" disabled={change.isPending}>
          Keep
        </ActButton>
        {task.mine ? (
          <LinkButton type="button" onClick={() => remove.mutate(task.id, { onSuccess: close })}>
            take it off
          </LinkButton>
        ) : (
          <LinkButton type="button" onClick={() => save(task.off, EMPTY)}>
            {task.off ? "turn it on again" : "turn it off"}
          </LinkButton>
        )}
        {task.own && !task.mine && (
          <LinkButton type="button" onClick={() => save(true, EMPTY)}>
            as it was
          </LinkButton>
        )}
      </Flex>
    </chakra.form>
  );
}

const KNOWN = [
  "days", "weekdays", "day", "months", "interval", "on", "hours", "season_from", "season_to", "clock", "anchor",
  "title", "minutes", "unit",
]; // prettier-ignore
const DAYS = ["MO", "TU", "WE", "TH", "FR", "SA", "SU"];

/** The choices behind a stored rule: only as far as this form made it. */
function fromRule(rule: string): NonNullable<Repeat["every"]> {
  const parts = Object.fromEntries(rule.split(";").map((p) => p.split("=") as [string, string]));
  const day = Number(parts["BYMONTHDAY"]?.split(",").at(-1) ?? 1);
  const months = parts["BYMONTH"]?.split(",").map(Number) ?? [];
  const weekdays = parts["BYDAY"]?.split(",").map((d) => DAYS.indexOf(d)) ?? [];
  const unit = parts["FREQ"] === "WEEKLY" ? "week" : months.length > 0 ? "year" : "month";
  return { unit, weekdays, day, months, interval: Number(parts["INTERVAL"] ?? 1) };
}

type FieldsProps = { repeat: Repeat; set: (repeat: Repeat) => void; error: Problem | null; rule: boolean };

function RepeatFields({ repeat, set, error, rule }: FieldsProps) {
  const every = repeat.every ?? { unit: "week", weekdays: [0], day: 1, months: [], interval: 1 };
  const fixed = (more: Partial<typeof every>) => set({ ...repeat, every: { ...every, ...more } });
  const at = (name: string) => error?.at(name);
  return (
    <Grid templateColumns={{ base: "1fr", sm: "1fr 1fr" }} gap="12px">
      <Field label="It comes round" error={at("anchor")}>
        {(p) => (
          <Select
            {...p}
            value={repeat.anchor}
            onChange={(e) =>
              set({
                ...repeat,
                anchor: e.target.value,
                every: e.target.value === "calendar" ? every : null,
              })
            }
          >
            <option value="">{rule ? "as its rule says" : "choose"}</option>
            <option value="completion">some days after it was done</option>
            <option value="calendar">on fixed days</option>
            <option value="run_hours">after hours of the pump</option>
            <option value="once">once</option>
          </Select>
        )}
      </Field>
      {repeat.anchor === "completion" && (
        <Field label="Every so many days" error={at("days")}>
          {(p) => <Number_ {...p} value={repeat.days} set={(days) => set({ ...repeat, days })} />}
        </Field>
      )}
      {repeat.anchor === "run_hours" && (
        <Field label="Hours of the pump" error={at("hours")}>
          {(p) => <Number_ {...p} value={repeat.hours} set={(hours) => set({ ...repeat, hours })} />}
        </Field>
      )}
      {repeat.anchor === "once" && (
        <Field label="On" error={at("on")}>
          {(p) => (
            <Input
              {...p}
              type="date"
              value={repeat.on}
              onChange={(e) => set({ ...repeat, on: e.target.value })}
            />
          )}
        </Field>
      )}
      {repeat.anchor === "calendar" && (
        <>
          <Field label="By" error={at("unit")}>
            {(p) => (
              <Select {...p} value={every.unit} onChange={(e) => fixed({ unit: e.target.value })}>
                <option value="week">the week</option>
                <option value="month">the month</option>
                <option value="year">the year</option>
              </Select>
            )}
          </Field>
          {every.unit === "week" && (
            <Picks
              legend="On"
              error={at("weekdays")}
              names={["Mon", "Tue", "Wed", "Thu", "Fri", "Sat", "Sun"]}
              from={0}
              chosen={every.weekdays ?? []}
              set={(weekdays) => fixed({ weekdays })}
            />
          )}
          {every.unit !== "week" && (
            <Field
              label="On day of the month"
              error={at("day")}
              hint="Past the 28th: the last day of a shorter month."
            >
              {(p) => <Number_ {...p} value={every.day ?? 1} set={(day) => fixed({ day })} />}
            </Field>
          )}
          {every.unit === "year" && (
            <Picks
              legend="Of"
              error={at("months")}
              names={["Jan", "Feb", "Mar", "Apr", "May", "Jun", "Jul", "Aug", "Sep", "Oct", "Nov", "Dec"]}
              from={1}
              chosen={every.months ?? []}
              set={(months) => fixed({ months })}
            />
          )}
        </>
      )}
      {repeat.anchor && repeat.anchor !== "once" && (
        <>
          <Field label="Only from (month-day)" error={at("season_from")} hint="Empty: all year.">
            {(p) => (
              <Input
                {...p}
                placeholder="04-15"
                value={repeat.season_from}
                onChange={(e) => set({ ...repeat, season_from: e.target.value })}
              />
            )}
          </Field>
          <Field label="to" error={at("season_to")}>
            {(p) => (
              <Input
                {...p}
                placeholder="10-15"
                value={repeat.season_to}
                onChange={(e) => set({ ...repeat, season_to: e.target.value })}
              />
            )}
          </Field>
        </>
      )}
      {repeat.anchor && (
        <Field label="Time of day, for calendars" error={at("clock")} hint="Empty: all day.">
          {(p) => (
            <Input
              {...p}
              placeholder="19:30"
              value={repeat.clock}
              onChange={(e) => set({ ...repeat, clock: e.target.value })}
            />
          )}
        </Field>
      )}
    </Grid>
  );
}

type NumberProps = { value: number | undefined; set: (value: number) => void; id: string };

/** A whole number; what is no number counts as none, which the server refuses in words. */
function Number_({ value, set, ...p }: NumberProps) {
  const [text, setText] = useState(String(value ?? ""));
  return (
    <Input
      {...p}
      inputMode="numeric"
      value={text}
      onChange={(e) => {
        setText(e.target.value);
        set(Number.parseInt(e.target.value, 10) || 0);
      }}
    />
  );
}

type PicksProps = {
  legend: string;
  names: string[];
  from: number;
  chosen: number[];
  error: string | undefined;
  set: (chosen: number[]) => void;
};

function Picks({ legend, names, from, chosen, error, set }: PicksProps) {
  return (
    <Box as="fieldset" gridColumn="1 / -1">
      <chakra.legend fontSize="14px" fontWeight={700} mb="4px">
        {legend}
      </chakra.legend>
      <Flex gap="4px 16px" wrap="wrap">
        {names.map((name, i) => {
          const value = i + from;
          return (
            <chakra.label key={name} display="flex" gap="6px" alignItems="center" minH="44px">
              <input
                type="checkbox"
                checked={chosen.includes(value)}
                onChange={(e) =>
                  set(e.target.checked ? [...chosen, value] : chosen.filter((one) => one !== value))
                }
              />
              {name}
            </chakra.label>
          );
        })}
      </Flex>
      {error && (
        <Text fontSize="14px" color="caution" fontWeight={700}>
          {error}
        </Text>
      )}
    </Box>
  );
}

function Add({ poolId }: { poolId: string }) {
  const [open, setOpen] = useState(false);
  const [title, setTitle] = useState("");
  const [minutes, setMinutes] = useState(15);
  const [repeat, setRepeat] = useState<Repeat>({ ...EMPTY, anchor: "completion", days: 30, hours: 200 });
  const add = useAddTask(poolId);
  const id = useRef(uuid());
  const error = add.error as Problem | null;
  if (!open)
    return (
      <Box borderTop="1px solid" borderColor="hair" py="10px">
        <LinkButton onClick={() => setOpen(true)}>add work of your own</LinkButton>
      </Box>
    );
  return (
    <chakra.form
      maxW="560px"
      py="12px"
      borderTop="1px solid"
      borderColor="hair"
      onSubmit={(e) => {
        e.preventDefault();
        void add.mutateAsync({ id: id.current, title, minutes, repeat }).then(
          () => {
            id.current = uuid();
            setOpen(false);
            setTitle("");
          },
          () => undefined, // told at the field
        );
      }}
    >
      <Grid templateColumns={{ base: "1fr", sm: "1fr 120px" }} gap="12px" mb="12px">
        <Field label="What is to be done" error={error?.at("title")}>
          {(p) => <Input {...p} value={title} maxLength={120} onChange={(e) => setTitle(e.target.value)} />}
        </Field>
        <Field label="Takes, min" error={error?.at("minutes")}>
          {(p) => <Number_ {...p} value={minutes} set={setMinutes} />}
        </Field>
      </Grid>
      <RepeatFields repeat={repeat} set={setRepeat} error={error} rule={false} />
      {error && !KNOWN.some((name) => error.at(name)) && <Notice>{error.message}</Notice>}
      <Flex gap="16px" mt="12px">
        <ActButton type="submit" disabled={add.isPending}>
          Add it
        </ActButton>
        <LinkButton type="button" onClick={() => setOpen(false)}>
          not now
        </LinkButton>
      </Flex>
    </chakra.form>
  );
}
