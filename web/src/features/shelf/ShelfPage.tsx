// The Shelf: what stands ready with what is left and how strong it is today, what to buy, and what may stand beside what.
import { Box, Flex, Grid, Text } from "@chakra-ui/react";
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { v7 as uuid } from "uuid";

import { api, unwrap, type Problem, type Schemas } from "../../api/client";
import { useAccount, useMeta, type Meta, type Pool } from "../../api/queries";
import { ActButton, LinkButton, Notice } from "../../ui/controls";
import { ColumnHead, Page, Waiting } from "../../ui/Page";
import { PoolSwitch, usePool } from "../../ui/PoolSwitch";
import { StateMark } from "../../ui/StateMark";
import { WhyLink } from "../../ui/WhyLink";
import { whoHere } from "../../lib/who";
import { ItemForm } from "./ItemForm";
import { Storage } from "./Storage";

type Line = Schemas["ShelfLine"];
type Item = Schemas["ShelfItemView"];

export function ShelfPage() {
  const meta = useMeta().data;
  const account = useAccount().data;
  const { pool, choose, pools } = usePool();
  const shelf = useQuery({
    queryKey: ["shelf", pool?.id],
    enabled: !!pools.data,
    queryFn: ({ signal }) =>
      unwrap(api.GET("/api/v1/shelf", { signal, params: { query: pool ? { pool_id: pool.id } : {} } })),
  });
  const client = useQueryClient();
  const [open, setOpen] = useState<string | null>(null);
  const [gone, setGone] = useState<{ id: string; name: string } | null>(null);
  const done = () => client.invalidateQueries();
  const path = (id: string) => ({ params: { path: { item_id: id } } });
  const restock = useMutation({
    mutationFn: (item: Item) =>
      unwrap(
        api.POST("/api/v1/shelf/items/{item_id}/restock", {
          ...path(item.id),
          body: { packs: 1, revision: item.revision },
        }),
      ),
    onSettled: done,
  });
  const remove = useMutation({
    mutationFn: (line: Line) => unwrap(api.DELETE("/api/v1/shelf/items/{item_id}", path(line.id))),
    onSuccess: (_, line) => {
      setGone(line);
      return done();
    },
  });
  const back = useMutation({
    mutationFn: (id: string) => unwrap(api.POST("/api/v1/shelf/items/{item_id}/put-back", path(id))),
    onSuccess: () => {
      setGone(null);
      return done();
    },
  });
  if (!meta || !account || !shelf.data) return <Waiting error={pools.error ?? shelf.error} />;
  const { told, items } = shelf.data;
  const failed = (restock.error ?? remove.error ?? back.error) as Problem | null;
  return (
    <Page
      above={
        pool ? (
          <PoolSwitch pool={pool} pools={pools.data ?? []} choose={choose} />
        ) : (
          "Products that stand ready"
        )
      }
      headline={told.headline}
    >
      <Grid
        templateColumns={{ base: "minmax(0,1fr)", lg: "minmax(0,1fr) 340px" }}
        gap={{ base: "28px", lg: "40px" }}
      >
        <Box minW={0}>
          <ColumnHead
            title="Stands ready"
            note={told.used_total && `this year's doses: ${told.used_total}`}
          />
          {told.lines.length === 0 && (
            <Text maxW="560px" mb="12px">
              Plans take what is listed here first, dose by its strength today and say what to buy. Only the
              product is needed; the rest makes it say more.
            </Text>
          )}
          {failed && <Notice>{failed.message}</Notice>}
          {gone && (
            <Text mb="8px">
              {gone.name} taken off. <LinkButton onClick={() => back.mutate(gone.id)}>put it back</LinkButton>
            </Text>
          )}
          {told.lines.map((line) => {
            const item = items.find((i) => i.id === line.id)!;
            return (
              <Box key={line.id} borderTop="1px solid" borderColor="hair" py="10px">
                <Grid
                  templateColumns={{ base: "minmax(0,1fr) auto", md: "minmax(0,1fr) 160px 180px" }}
                  gap="4px 16px"
                  alignItems="start"
                >
                  <Box>
                    <Text fontWeight={700}>{line.name}</Text>
                    <Flex fontSize="14px" color="muted" gap="0 14px" wrap="wrap">
                      {line.strength && (
                        <Text>
                          {line.strength} {line.ages && <WhyLink reasonId="decay" />}
                        </Text>
                      )}
                      {line.price && <Text>{line.price}</Text>}
                      {line.used && <Text>used this year: {line.used}</Text>}
                    </Flex>
                  </Box>
                  <Box textAlign={{ base: "right", md: "left" }}>
                    <Text fontSize="20px" fontWeight={700} lineHeight="1.2">
                      {line.left || "–"}
                    </Text>
                    <StateMark level={line.level} word={line.word} />
                  </Box>
                  <Flex
                    gap="0 14px"
                    wrap="wrap"
                    gridColumn={{ base: "1 / -1", md: "auto" }}
                    justify={{ md: "flex-end" }}
                  >
                    {line.can_restock && (
                      <LinkButton
                        disabled={restock.isPending}
                        aria-label={`bought one more ${line.name}`}
                        onClick={() => restock.mutate(item)}
                      >
                        bought one more
                      </LinkButton>
                    )}
                    <LinkButton
                      aria-expanded={open === line.id}
                      aria-label={`change ${line.name}`}
                      onClick={() => setOpen(open === line.id ? null : line.id)}
                    >
                      change
                    </LinkButton>
                  </Flex>
                </Grid>
                {line.label && pool && <Label line={line} pool={pool} />}
                {open === line.id && (
                  <ItemForm
                    key={item.revision}
                    meta={meta}
                    measures={account.measures}
                    item={item}
                    left={line.left}
                    done={() => setOpen(null)}
                    remove={() => {
                      setOpen(null);
                      remove.mutate(line);
                    }}
                  />
                )}
              </Box>
            );
          })}
          <Box borderTop="1px solid" borderColor="hair" pt="14px">
            {open === "new" ? (
              <ItemForm
                meta={unlisted(meta, told.lines)}
                measures={account.measures}
                done={() => setOpen(null)}
              />
            ) : (
              <ActButton
                type="button"
                look={told.lines.length ? "line" : "solid"}
                onClick={() => setOpen("new")}
              >
                Add a product
              </ActButton>
            )}
          </Box>
        </Box>
        <Box>{told.lines.length > 0 && <Storage places={told.places} apart={told.apart} />}</Box>
      </Grid>
    </Page>
  );
}

const unlisted = (meta: Meta, lines: Line[]): Meta => ({
  ...meta,
  products: meta.products.filter((p) => !lines.some((l) => l.product_id === p.id)),
});

/** What a label asks for in the pool in view; ticked off here, since no plan asks for it. */
function Label({ line, pool }: { line: Line; pool: Pool }) {
  const client = useQueryClient();
  const [id, setId] = useState(() => uuid());
  const label = line.label!;
  const done = () => client.invalidateQueries();
  const pour = useMutation({
    mutationFn: () =>
      unwrap(
        api.POST("/api/v1/pools/{pool_id}/doses", {
          params: { path: { pool_id: pool.id } },
          body: {
            id,
            at: new Date().toISOString(),
            who: whoHere(),
            product_id: line.product_id,
            amount: String(label.value),
            unit: label.unit,
            local: "",
          },
        }),
      ),
    onSuccess: () => done(),
  });
  const undo = useMutation({
    mutationFn: () => unwrap(api.DELETE("/api/v1/events/{event_id}", { params: { path: { event_id: id } } })),
    onSuccess: () => {
      pour.reset();
      setId(uuid());
      return done();
    }, // an id once deleted is not used again
  });
  return (
    <Flex
      mt="6px"
      gap="6px 16px"
      wrap="wrap"
      align="center"
      pl="12px"
      borderLeft="2px solid"
      borderColor="hair"
    >
      <Text flex="1 1 260px" fontSize="14px">
        {label.text && (
          <>
            <b>{label.text}</b> in {pool.name}.{" "}
          </>
        )}
        {label.note} <WhyLink reasonId="label" />
      </Text>
      {pour.isSuccess ? (
        <Text fontSize="14px" role="status">
          Logged. <LinkButton onClick={() => undo.mutate()}>undo</LinkButton>
        </Text>
      ) : (
        label.text && (
          <ActButton
            look="line"
            minH="44px"
            px="12px"
            disabled={pour.isPending}
            onClick={() => pour.mutate()}
          >
            Poured {label.text}
          </ActButton>
        )
      )}
      {pour.error && <Notice>{pour.error.message}</Notice>}
    </Flex>
  );
}
