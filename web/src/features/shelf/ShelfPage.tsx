// The Shelf: what stands ready with what is left and how strong it is today, what to buy, and what may stand beside what.
import { Box, Flex, Grid, Text } from "@chakra-ui/react";
import { useState } from "react";
import { v7 as uuid } from "uuid";

import { useAccount } from "../../api/accounts";
import { Problem, type Schemas } from "../../api/client";
import { useDeleteEntry, useSaveDose } from "../../api/log";
import { type Meta, useMeta } from "../../api/meta";
import { type Pool } from "../../api/pools";
import { useRemoveItem, useRestock, useRestoreItem, useShelf } from "../../api/shelf";
import { ActButton, LinkButton, Notice } from "../../ui/controls";
import { ColumnHead, Page, Waiting } from "../../ui/Page";
import { PoolSwitch, usePool } from "../../ui/PoolSwitch";
import { StateMark } from "../../ui/StateMark";
import { WhyLink } from "../../ui/WhyLink";
import { ItemForm } from "./ItemForm";
import { Storage } from "./Storage";
import { Supplies } from "./Supplies";

type Line = Schemas["ShelfLine"];

export function ShelfPage() {
  const meta = useMeta().data;
  const account = useAccount().data;
  const { pool, choose, pools } = usePool();
  const shelf = useShelf(pool?.id, !!pools.data);
  const [open, setOpen] = useState<string | null>(null);
  const [gone, setGone] = useState<{ id: string; name: string } | null>(null);
  const restock = useRestock();
  const remove = useRemoveItem();
  const restore = useRestoreItem();
  if (!meta || !account || !shelf.data) return <Waiting error={pools.error ?? shelf.error} />;
  const { told, items } = shelf.data;
  const failed = (restock.error ?? remove.error ?? restore.error) as Problem | null;
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
              {gone.name} taken off.{" "}
              <LinkButton onClick={() => restore.mutate(gone.id, { onSuccess: () => setGone(null) })}>
                put it back
              </LinkButton>
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
                    unitSystem={account.unit_system}
                    item={item}
                    left={line.left}
                    done={() => setOpen(null)}
                    remove={() => {
                      setOpen(null);
                      remove.mutate(line.id, { onSuccess: () => setGone(line) });
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
                unitSystem={account.unit_system}
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
        <Box>
          <Supplies told={told.supplies} items={items} choices={meta.supplies} />
          {told.lines.length > 0 && <Storage places={told.places} apart={told.apart} />}
        </Box>
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
  const [id, setId] = useState(() => uuid());
  const label = line.label!;
  const pour = useSaveDose(pool.id, undefined, id);
  const remove = useDeleteEntry();
  const onPour = () =>
    pour.mutate({
      product_id: line.product_id,
      strength: null,
      amount: String(label.value),
      unit: label.unit,
      local: "",
    });
  const onUndo = () =>
    remove.mutate(id, {
      onSuccess: () => {
        pour.reset();
        setId(uuid()); // an id once deleted is not used again
      },
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
          Logged. <LinkButton onClick={() => onUndo()}>undo</LinkButton>
        </Text>
      ) : (
        label.text && (
          <ActButton look="line" minH="44px" px="12px" disabled={pour.isPending} onClick={onPour}>
            Poured {label.text}
          </ActButton>
        )
      )}
      {pour.error && <Notice>{pour.error.message}</Notice>}
    </Flex>
  );
}
