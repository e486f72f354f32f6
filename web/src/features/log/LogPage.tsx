// The Log: all that happened, newest first; correct, delete, undo.
import { Box, chakra, Flex, Grid, Text } from "@chakra-ui/react";
import { useInfiniteQuery, useMutation, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { Link } from "react-router";

import { api, unwrap, type Problem } from "../../api/client";
import { useMeta, type EventView, type Meta } from "../../api/queries";
import { ActButton, LinkButton, Notice } from "../../ui/controls";
import { ColumnHead, Page, Waiting } from "../../ui/Page";
import { PoolSwitch, usePool } from "../../ui/PoolSwitch";
import { StateShape } from "../../ui/StateMark";
import { DoseForm, TestForm } from "./forms";

export function LogPage() {
  const { pool, choose, pools } = usePool();
  const meta = useMeta().data;
  const client = useQueryClient();
  const [chosen, setChosen] = useState<string | null>(null);
  const [adding, setAdding] = useState(false);
  const [removed, setRemoved] = useState<EventView | null>(null);
  const log = useInfiniteQuery({
    queryKey: ["log", pool?.id],
    enabled: !!pool,
    initialPageParam: null as string | null,
    queryFn: ({ signal, pageParam }) =>
      unwrap(
        api.GET("/api/v1/pools/{pool_id}/events", {
          signal, params: { path: { pool_id: pool!.id }, query: { limit: 50, ...(pageParam ? { cursor: pageParam } : {}) } },
        }),
      ),
    getNextPageParam: (page) => page.next,
  });
  const remove = useMutation({
    mutationFn: (event: EventView) => unwrap(api.DELETE("/api/v1/events/{event_id}", { params: { path: { event_id: event.id } } })),
    onSuccess: (event) => {
      setRemoved(event);
      setChosen(null);
      return client.invalidateQueries();
    },
  });
  const undo = useMutation({
    mutationFn: (event: EventView) => unwrap(api.POST("/api/v1/events/{event_id}/undelete", { params: { path: { event_id: event.id } } })),
    onSuccess: () => {
      setRemoved(null);
      return client.invalidateQueries();
    },
  });
  if (pools.data?.length === 0) return <Page above="" headline="Add your pool first."><ActButton asChild><Link to="/pool/new">Add a pool</Link></ActButton></Page>;
  if (!pool || !log.data || !meta) return <Waiting error={pools.error ?? log.error} />;
  const events = log.data.pages.flatMap((p) => p.events);
  const open = events.find((e) => e.id === chosen);
  const tests = events.filter((e) => e.kind === "water_test").length;
  const failed = (remove.error ?? undo.error) as Problem | null;
  const close = () => { setChosen(null); setAdding(false); };
  const editor = adding
    ? <DoseForm poolId={pool.id} meta={meta} close={close} />
    : open && <Editor key={open.id + open.revision} event={open} meta={meta} close={close} remove={() => remove.mutate(open)} />;
  return (
    <Page
      above={<PoolSwitch pool={pool} pools={pools.data ?? []} choose={(id) => { close(); setRemoved(null); choose(id); }} />}
      aside={log.hasNextPage ? "" : `${events.length} entries`}
      headline={events.length ? `${tests} test${tests === 1 ? "" : "s"} and what was done about them.` : "Nothing is written here yet."}
    >
      <Grid templateColumns={{ base: "minmax(0,1fr)", lg: "minmax(0,1fr) 420px" }} gap="32px">
        <Box minW={0}>
          <ColumnHead title="Stream" note={<LinkButton onClick={() => { setAdding(true); setChosen(null); }}>log a dose</LinkButton>} />
          {failed && <Notice>{failed.message}</Notice>}
          {removed && (
            <Flex role="status" align="center" gap="16px" py="8px" borderBottom="2px solid" borderColor="ink">
              <Text fontSize="14px">Deleted: {removed.title}</Text>
              <ActButton look="line" onClick={() => undo.mutate(removed)}>Undo</ActButton>
            </Flex>
          )}
          {adding && <Box display={{ base: "block", lg: "none" }}>{editor}</Box>}
          <Box as="ol" p={0} m={0}>
            {events.map((event, i) => (
              <Entry key={event.id} event={event} day={events[i - 1]?.day !== event.day} chosen={event.id === chosen} toggle={() => { setAdding(false); setChosen(event.id === chosen ? null : event.id); }}>
                {event.id === chosen && <Box display={{ base: "block", lg: "none" }}>{editor}</Box>}
              </Entry>
            ))}
          </Box>
          {events.length === 0 && <Text>Tests and doses appear here as they are logged. <Link to="/bench">Test the water</Link></Text>}
          {log.hasNextPage && <Box mt="12px"><ActButton look="line" onClick={() => void log.fetchNextPage()}>Older entries</ActButton></Box>}
        </Box>
        <Box display={{ base: "none", lg: "block" }}>
          <Box position="sticky" top="16px">
            {editor ?? <Text fontSize="14px" color="muted" pt="40px">Choose an entry to read or correct it.</Text>}
          </Box>
        </Box>
      </Grid>
    </Page>
  );
}

type EntryProps = { event: EventView; day: boolean; chosen: boolean; toggle: () => void; children: React.ReactNode };

function Entry({ event, day, chosen, toggle, children }: EntryProps) {
  return (
    <Box as="li" listStyleType="none">
      <Grid templateColumns={{ base: "32px minmax(0,1fr)", md: "92px 24px minmax(0,1fr)" }} columnGap="12px">
        <Text display={{ base: "none", md: "block" }} textAlign="right" fontSize="14px" pt="12px" fontWeight={700}>{day ? event.day : ""}</Text>
        <Box position="relative">
          <Box position="absolute" top={0} bottom={0} left="50%" ml="-1px" w="2px" bg="ink" />
          <Box position="absolute" top="15px" left="50%" ml="-7px" bg="paper" h="14px">
            {event.kind === "water_test" ? <StateShape level={event.level} /> : <Box w="14px" h="14px" borderLeft="7px solid" borderColor="ink" />}
          </Box>
        </Box>
        <Box borderBottom="1px solid" borderColor="hair">
          {day && <Text display={{ md: "none" }} fontSize="14px" fontWeight={700} pt="8px">{event.day}</Text>}
          <chakra.button
            onClick={toggle} aria-expanded={chosen} w="100%" textAlign="left" minH="52px" py="8px" cursor="pointer" bg={chosen ? "channel" : undefined} px="8px"
          >
            <Flex gap="12px" align="baseline">
              <Text fontSize="14px" color="muted">{event.clock}</Text>
              <Text as="span" fontWeight={700}>{event.title}</Text>
            </Flex>
            <Text fontSize="14px" color="muted">{event.detail}</Text>
          </chakra.button>
          {children}
        </Box>
      </Grid>
    </Box>
  );
}

type EditorProps = { event: EventView; meta: Meta; close: () => void; remove: () => void };

function Editor({ event, meta, close, remove }: EditorProps) {
  return (
    <Box py="8px">
      {event.kind === "water_test" && <TestForm event={event} meta={meta} close={close} />}
      {event.kind === "dose" && <DoseForm event={event} poolId={event.pool_id} meta={meta} close={close} />}
      {(event.kind === "plan" || event.kind === "task") && (
        <Box><Text as="h2" fontSize="20px" fontWeight={700}>{event.title}</Text><Text>{event.detail}</Text><Text fontSize="14px" color="muted">{event.day} {event.clock}, {event.who}</Text></Box>
      )}
      <LinkButton onClick={remove}>delete this entry</LinkButton>
    </Box>
  );
}
