// The chlorinator's own panel, bound to this pool: what it tells, what to make of it, its setting from here.
import { Box, Flex, Heading, Text } from "@chakra-ui/react";
import { useRef, useState } from "react";
import { v7 as uuid } from "uuid";

import { type Problem } from "../../api/client";
import {
  type Panel,
  useBindPanel,
  useFaultPanel,
  useReadPanel,
  useSetPanel,
  useUnbindPanel,
} from "../../api/machines";
import { ActButton, Field, Input, LinkButton, Notice, Select } from "../../ui/controls";
import { StateShape } from "../../ui/StateMark";

type Props = { poolId: string; panel: Panel | null };

export function ThePanel({ poolId, panel }: Props) {
  return (
    <Box mt="24px">
      <Heading as="h3" fontSize="14px" fontWeight={700} mb="4px">
        Its panel
      </Heading>
      {panel ? <Bound poolId={poolId} panel={panel} key={panel.address} /> : <Bind poolId={poolId} />}
    </Box>
  );
}

function Bound({ poolId, panel }: { poolId: string; panel: Panel }) {
  const ids = useRef({ set: uuid(), read: uuid() });
  const set = useSetPanel(poolId);
  const read = useReadPanel(poolId);
  const unbind = useUnbindPanel(poolId);
  const fault = useFaultPanel(poolId);
  const [percent, setPercent] = useState("");
  const [hours, setHours] = useState("");
  const failed = (set.error ?? read.error ?? unbind.error ?? fault.error) as Problem | null;
  const send = () =>
    set.mutate(
      {
        id: ids.current.set,
        percent: Number(percent || panel.percent),
        hours_day: Number(hours || panel.hours_day),
      },
      { onSuccess: () => (setPercent(""), setHours(""), (ids.current.set = uuid())) },
    );
  return (
    <>
      <Text fontSize="14px" color="muted">
        {panel.name}
        {panel.when && `, told at ${panel.when}`}
      </Text>
      {panel.problem && (
        <Flex gap="8px" align="baseline" mt="6px" role="status">
          <StateShape level="watch" />
          <Text fontWeight={700}>
            {panel.problem} What it told before stands here; nothing else waits for it.
          </Text>
        </Flex>
      )}
      {panel.setting && (
        <Text mt="6px" fontSize="18px" lineHeight="1.35">
          {panel.setting}, {panel.makes}. Lights: <b>{panel.lights}</b>.{panel.salt && ` Salt ${panel.salt}.`}
          {panel.temp && ` Water ${panel.temp}.`}
        </Text>
      )}
      {panel.says.map((s) => (
        <Flex key={s.text} gap="8px" align="baseline" mt="6px">
          {s.level !== "none" && <StateShape level={s.level} />}
          <Text fontWeight={s.level === "act" ? 700 : 400}>{s.text}</Text>
        </Flex>
      ))}
      {failed && <Notice>{failed.at("percent") ?? failed.at("hours_day") ?? failed.message}</Notice>}
      <Flex gap="12px" align="end" mt="12px" wrap="wrap" className="noprint">
        <Box w="96px">
          <Field label="Setting, %">
            {(p) => (
              <Input
                {...p}
                inputMode="decimal"
                placeholder={String(panel.percent ?? "")}
                value={percent}
                onChange={(e) => setPercent(e.target.value)}
              />
            )}
          </Field>
        </Box>
        <Box w="96px">
          <Field label="Hours a day">
            {(p) => (
              <Input
                {...p}
                inputMode="decimal"
                placeholder={String(panel.hours_day ?? "")}
                value={hours}
                onChange={(e) => setHours(e.target.value)}
              />
            )}
          </Field>
        </Box>
        <ActButton look="line" disabled={set.isPending || (!percent && !hours)} onClick={send}>
          Set it
        </ActButton>
      </Flex>
      <Flex gap="20px" mt="6px" wrap="wrap" align="center" className="noprint">
        {panel.salt && (
          <LinkButton
            disabled={read.isPending}
            onClick={() => read.mutate(ids.current.read, { onSuccess: () => (ids.current.read = uuid()) })}
          >
            write its readings to the log
          </LinkButton>
        )}
        <LinkButton disabled={unbind.isPending} onClick={() => unbind.mutate()}>
          let it go
        </LinkButton>
      </Flex>
      {read.isSuccess && <Text role="status">Written, as the panel&apos;s.</Text>}
      {panel.faults.length > 0 && (
        <Box maxW="240px" mt="8px" className="noprint">
          <Field label="Simulated fault" hint="Of the stand-in alone: see what is made of it.">
            {(p) => (
              <Select
                {...p}
                value=""
                onChange={(e) => fault.mutate(e.target.value === "none" ? "" : e.target.value)}
              >
                <option value="" disabled>
                  choose
                </option>
                {panel.faults.map(([id, label]) => (
                  <option key={id} value={id || "none"}>
                    {label}
                  </option>
                ))}
              </Select>
            )}
          </Field>
        </Box>
      )}
    </>
  );
}

function Bind({ poolId }: { poolId: string }) {
  const bind = useBindPanel(poolId);
  const [open, setOpen] = useState(false);
  const [address, setAddress] = useState("");
  const error = bind.error as Problem | null;
  if (!open)
    return (
      <LinkButton className="noprint" onClick={() => setOpen(true)}>
        bind its panel
      </LinkButton>
    );
  return (
    <Box className="noprint" maxW="320px">
      <Field label="Its address" error={error?.at("address")} hint="On your own network: http://192.168.1.40">
        {(p) => <Input {...p} value={address} onChange={(e) => setAddress(e.target.value)} />}
      </Field>
      {error && !error.at("address") && <Notice>{error.message}</Notice>}
      <Flex gap="14px" mt="8px" align="center">
        <ActButton
          look="line"
          disabled={bind.isPending || !address.trim()}
          onClick={() => bind.mutate(address)}
        >
          Bind
        </ActButton>
        <LinkButton disabled={bind.isPending} onClick={() => bind.mutate("standin")}>
          the simulated one
        </LinkButton>
      </Flex>
    </Box>
  );
}
