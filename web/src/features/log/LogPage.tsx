// The Log: all that happened, newest first; written in a tap, found again, corrected, deleted, undone.
import { Box, chakra, Flex, Grid, Text } from "@chakra-ui/react";
import { useEffect, useState } from "react";
import { Link } from "react-router";

import { Problem, type Schemas } from "../../api/client";
import { type LogEntry, useDeleteEntry, useLog, useRestoreEntry, useUsualEntries } from "../../api/log";
import { type Meta, useEntryKinds, useMeta } from "../../api/meta";
import { useWide } from "../../lib/wide";
import { ActButton, Input, LinkButton, Notice, Select } from "../../ui/controls";
import { ColumnHead, Page, Waiting } from "../../ui/Page";
import { Photos, Thumbs } from "../../ui/Photos";
import { PoolSwitch, usePool } from "../../ui/PoolSwitch";
import { StateShape } from "../../ui/StateMark";
import { DoseForm, TestForm } from "./forms";
import { Costs } from "./Costs";
import { EntryForm } from "./EntryForm";
import { LogParts } from "../../ui/LogParts";

const OFFERED = 5;

export function LogPage() {
  const { pool, choose, pools } = usePool();
  const meta = useMeta().data;
  const [chosen, setChosen] = useState<string | null>(null);
  const [adding, setAdding] = useState<string | null>(null); // "dose" or a kind
  const [removed, setRemoved] = useState<LogEntry | null>(null);
  const [written, setWritten] = useState<LogEntry | null>(null);
  const [all, setAll] = useState(false);
  const wide = useWide(); // the open entry stands beside the stream, or in it
  const [only, setOnly] = useState("");
  const [search, setSearch] = useState("");
  const kinds = useEntryKinds();
  const usual = useUsualEntries(pool?.id);
  const log = useLog(pool?.id, only, search.trim());
  const remove = useDeleteEntry();
  const restore = useRestoreEntry();
  const onRemove = (entry: LogEntry) =>
    remove.mutate(entry.id, {
      onSuccess: (gone) => {
        setRemoved(gone);
        setChosen(null);
      },
    });
  const onRestore = (entry: LogEntry) => restore.mutate(entry.id, { onSuccess: () => setRemoved(null) });
  // One digit, one entry: the buttons carry theirs.
  useEffect(() => {
    const onKey = (e: KeyboardEvent) => {
      if ((e.target as HTMLElement).closest("input, select, textarea") || e.ctrlKey || e.metaKey || e.altKey)
        return;
      const kind = (usual.data?.most ?? [])[Number(e.key) - 1];
      if (!/^[1-9]$/.test(e.key) || !kind) return;
      e.preventDefault();
      setChosen(null);
      setAdding(kind);
    };
    window.addEventListener("keydown", onKey);
    return () => window.removeEventListener("keydown", onKey);
  }, [usual.data]);
  if (pools.data?.length === 0)
    return (
      <Page above="" headline="Add your pool first.">
        <ActButton asChild>
          <Link to="/pool/new">Add a pool</Link>
        </ActButton>
      </Page>
    );
  if (!pool || !log.data || !meta || !kinds.data)
    return <Waiting error={pools.error ?? log.error ?? kinds.error} />;
  const events = log.data.pages.flatMap((p) => p.events);
  const open = events.find((e) => e.id === chosen);
  const tests = events.filter((e) => e.kind === "water_test").length;
  const failed = (remove.error ?? restore.error) as Problem | null;
  const close = () => {
    setChosen(null);
    setAdding(null);
  };
  const kind = kinds.data.find((k) => k.id === adding);
  const editor =
    adding === "dose" ? (
      <DoseForm poolId={pool.id} meta={meta} close={close} />
    ) : kind ? (
      <EntryForm
        key={kind.id}
        kind={kind}
        poolId={pool.id}
        usual={usual.data?.last[kind.id]}
        close={close}
        saved={setWritten}
      />
    ) : (
      open && (
        <Editor
          key={open.id}
          event={open}
          meta={meta}
          kinds={kinds.data}
          close={close}
          remove={() => onRemove(open)}
        />
      )
    );
  const most = usual.data?.most ?? [];
  // The five this pool uses most; one that is open stays in sight.
  const offered = all ? most : most.filter((id, i) => i < OFFERED || id === adding);
  const labelOf = (id: string) => kinds.data.find((k) => k.id === id)?.label ?? "Dose";
  const write = (id: string, label: string, digit: number) => (
    <ActButton
      key={id}
      look="line"
      px="10px"
      fontSize="14px"
      fontWeight={adding === id ? 700 : 400}
      borderWidth="1px"
      aria-expanded={adding === id}
      onClick={() => {
        setChosen(null);
        setWritten(null);
        setAdding(adding === id ? null : id);
      }}
    >
      {label}
      {digit <= 9 && (
        <chakra.span display={{ base: "none", md: "inline" }} color="muted" ml="8px" aria-hidden>
          {digit}
        </chakra.span>
      )}
    </ActButton>
  );
  return (
    <Page
      above={
        <PoolSwitch
          pool={pool}
          pools={pools.data ?? []}
          choose={(id) => {
            close();
            setRemoved(null);
            choose(id);
          }}
        />
      }
      aside={log.hasNextPage ? "" : `${events.length} entries`}
      headline={
        only || search
          ? `${events.length}${log.hasNextPage ? " or more" : ""} found.`
          : events.length
            ? `${log.hasNextPage ? "The newest " : ""}${tests} test${tests === 1 ? "" : "s"} and what was done about them.`
            : "Nothing is written here yet."
      }
    >
      <LogParts />
      <Grid templateColumns={{ base: "minmax(0,1fr)", lg: "minmax(0,1fr) 420px" }} gap="32px">
        <Box minW={0}>
          <ColumnHead
            title="Write down"
            note={
              <Link to="/bench" style={{ textDecoration: "underline" }}>
                a test
              </Link>
            }
          />
          <Flex gap="6px" wrap="wrap" mb="16px">
            {offered.map((id, i) => write(id, labelOf(id), i + 1))}
            {most.length > OFFERED && (
              <LinkButton aria-expanded={all} onClick={() => setAll(!all)}>
                {all ? "fewer" : `${most.length - OFFERED} more`}
              </LinkButton>
            )}
          </Flex>
          {written && !adding && (
            <Flex role="status" align="center" gap="16px" mb="12px">
              <Text fontSize="14px">
                Written: {written.title}
                {written.detail && `, ${written.detail}`}
              </Text>
              <LinkButton
                onClick={() => {
                  setWritten(null);
                  onRemove(written);
                }}
              >
                undo
              </LinkButton>
            </Flex>
          )}
          {adding && !wide && <Box mb="16px">{editor}</Box>}
          <Flex gap="8px" mb="8px">
            <Input
              type="search"
              aria-label="Search the log"
              placeholder="Search: a product, a note, a kind"
              value={search}
              maxLength={80}
              onChange={(e) => setSearch(e.target.value)}
            />
            <Select
              aria-label="Show"
              w="180px"
              flexShrink={0}
              value={only}
              onChange={(e) => setOnly(e.target.value)}
            >
              <option value="">everything</option>
              <option value="water_test">tests</option>
              <option value="dose">doses</option>
              <option value="plan">plans</option>
              {kinds.data.map((k) => (
                <option key={k.id} value={k.id}>
                  {k.label.toLowerCase()}
                </option>
              ))}
            </Select>
          </Flex>
          {!wide && <Costs poolId={pool.id} folded />}
          {failed && <Notice>{failed.message}</Notice>}
          {removed && (
            <Flex role="status" align="center" gap="16px" py="8px" borderBottom="2px solid" borderColor="ink">
              <Text fontSize="14px">Deleted: {removed.title}</Text>
              <ActButton look="line" onClick={() => onRestore(removed)}>
                Undo
              </ActButton>
            </Flex>
          )}
          <Box as="ol" p={0} m={0}>
            {events.map((event, i) => (
              <Entry
                key={event.id}
                event={event}
                day={events[i - 1]?.day !== event.day}
                chosen={event.id === chosen}
                toggle={() => {
                  setAdding(null);
                  setChosen(event.id === chosen ? null : event.id);
                }}
              >
                {event.id === chosen && !wide && editor}
              </Entry>
            ))}
          </Box>
          {events.length === 0 &&
            (only || search ? (
              <Text>Nothing like that is written here.</Text>
            ) : (
              <Text>
                Tests, doses and all else appear here as they are logged.{" "}
                <Link to="/bench">Test the water</Link>
              </Text>
            ))}
          {log.hasNextPage && (
            <Box mt="12px">
              <ActButton look="line" onClick={() => void log.fetchNextPage()}>
                Older entries
              </ActButton>
            </Box>
          )}
        </Box>
        <Box display={{ base: "none", lg: "block" }}>
          <Box position="sticky" top="16px">
            {(wide && editor) || (
              <>
                <Costs poolId={pool.id} />
                <Text fontSize="14px" color="muted" pt="24px">
                  Choose an entry to read or correct it.
                </Text>
              </>
            )}
          </Box>
        </Box>
      </Grid>
    </Page>
  );
}

type EntryProps = {
  event: LogEntry;
  day: boolean;
  chosen: boolean;
  toggle: () => void;
  children: React.ReactNode;
};

function Entry({ event, day, chosen, toggle, children }: EntryProps) {
  return (
    <Box as="li" listStyleType="none">
      <Grid templateColumns={{ base: "32px minmax(0,1fr)", md: "92px 24px minmax(0,1fr)" }} columnGap="12px">
        <Text
          display={{ base: "none", md: "block" }}
          textAlign="right"
          fontSize="14px"
          pt="12px"
          fontWeight={700}
        >
          {day ? event.day : ""}
        </Text>
        <Box position="relative">
          <Box position="absolute" top={0} bottom={0} left="50%" ml="-1px" w="2px" bg="ink" />
          <Box position="absolute" top="15px" left="50%" ml="-7px" bg="paper" h="14px">
            {event.kind === "water_test" ? (
              <StateShape level={event.level} />
            ) : (
              <Box w="14px" h="14px" borderLeft="7px solid" borderColor="ink" />
            )}
          </Box>
        </Box>
        <Box borderBottom="1px solid" borderColor="hair">
          {day && (
            <Text display={{ md: "none" }} fontSize="14px" fontWeight={700} pt="8px">
              {event.day}
            </Text>
          )}
          <chakra.button
            onClick={toggle}
            aria-expanded={chosen}
            w="100%"
            textAlign="left"
            minH="52px"
            py="8px"
            cursor="pointer"
            bg={chosen ? "channel" : undefined}
            px="8px"
          >
            <Flex gap="12px" align="baseline">
              <Text fontSize="14px" color="muted">
                {event.clock}
              </Text>
              <Text as="span" fontWeight={700} flex={1}>
                {event.title}
              </Text>
              {event.performed_by !== "you" && (
                <Text fontSize="14px" color="muted">
                  {event.performed_by}
                </Text>
              )}
            </Flex>
            <Text fontSize="14px" color="muted">
              {event.detail}
            </Text>
          </chakra.button>
          {event.photos.length > 0 && !chosen && (
            <Box px="8px" pb="8px">
              <Thumbs photos={event.photos} small />
            </Box>
          )}
          {children}
        </Box>
      </Grid>
    </Box>
  );
}

type EditorProps = {
  event: LogEntry;
  meta: Meta;
  kinds: Schemas["KindMeta"][];
  close: () => void;
  remove: () => void;
};

function Editor({ event, meta, kinds, close, remove }: EditorProps) {
  const kind = kinds.find((k) => k.id === event.kind);
  // What is corrected is the entry as it was opened: changed elsewhere meanwhile, saving says so and keeps what was typed.
  const [opened] = useState(event);
  return (
    <Box py="8px">
      {event.kind === "water_test" && <TestForm event={opened} meta={meta} close={close} />}
      {event.kind === "dose" && <DoseForm event={opened} poolId={event.pool_id} meta={meta} close={close} />}
      {kind && <EntryForm kind={kind} poolId={event.pool_id} event={opened} close={close} />}
      {(event.kind === "plan" || event.kind === "step_done") && (
        <Box>
          <Text as="h2" fontSize="20px" fontWeight={700}>
            {event.title}
          </Text>
          <Text>{event.detail}</Text>
          <Text fontSize="14px" color="muted">
            {event.day} {event.clock}, {event.performed_by}
          </Text>
        </Box>
      )}
      <Photos photos={event.photos} owner={{ event_id: event.id }} />
      <LinkButton onClick={remove}>delete this entry</LinkButton>
      {event.history.length > 0 && (
        <Box mt="12px" fontSize="14px" color="muted">
          <Text fontWeight={700}>Corrected</Text>
          {event.history.map((line) => (
            <Text key={line}>{line}</Text>
          ))}
        </Box>
      )}
    </Box>
  );
}
