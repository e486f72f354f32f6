// What is counted and is no chemical: strips, reagents, O-rings, cartridges. One tap a piece used or bought.
import { Box, chakra, Flex, Grid, Text } from "@chakra-ui/react";
import { useState } from "react";
import { v7 as uuid } from "uuid";

import { type Problem, type Schemas } from "../../api/client";
import { type ShelfItem, useRemoveItem, useRestock, useSaveItem } from "../../api/shelf";
import { ActButton, Field, Input, LinkButton, Notice, Select } from "../../ui/controls";
import { ColumnHead } from "../../ui/Page";
import { StateMark } from "../../ui/StateMark";
import { WhyLink } from "../../ui/WhyLink";
import { EMPTY } from "./ItemForm";

type Line = Schemas["SupplyLine"];
type Props = { told: Line[]; items: ShelfItem[]; choices: Schemas["ChoiceMeta"][] };

export function Supplies({ told, items, choices }: Props) {
  const [open, setOpen] = useState<string | null>(null);
  const left = choices.filter((c) => !told.some((line) => line.product_id === c.id));
  return (
    <Box mb="28px">
      <ColumnHead title="Strips, reagents, parts" note={<WhyLink reasonId="care_reagents" />} />
      {told.map((line) => (
        <Supply
          key={line.id}
          line={line}
          item={items.find((i) => i.id === line.id)!}
          open={open === line.id}
          toggle={() => setOpen(open === line.id ? null : line.id)}
        />
      ))}
      <Box borderTop="1px solid" borderColor="hair" pt="8px">
        {open === "new" ? (
          <Form choices={left} done={() => setOpen(null)} />
        ) : (
          <LinkButton onClick={() => setOpen("new")}>add one</LinkButton>
        )}
      </Box>
    </Box>
  );
}

type SupplyProps = { line: Line; item: ShelfItem; open: boolean; toggle: () => void };

function Supply({ line, item, open, toggle }: SupplyProps) {
  const save = useSaveItem(item, item.id);
  const restock = useRestock();
  const remove = useRemoveItem();
  const count = Number(line.left === "none" ? 0 : line.left);
  const error = (save.error ?? restock.error ?? remove.error) as Problem | null;
  return (
    <Box borderTop="1px solid" borderColor="hair" py="8px">
      <Grid templateColumns="minmax(0,1fr) auto" gap="0 12px">
        <Text fontWeight={700}>{line.name}</Text>
        <Text fontSize="20px" fontWeight={700} lineHeight="1.2" textAlign="right">
          {line.left || "–"}
        </Text>
        <Text fontSize="14px" color="muted">
          {line.bought}
        </Text>
        <StateMark level={line.level} word={line.word} />
      </Grid>
      <Flex gap="0 14px" wrap="wrap">
        {count > 0 && (
          <LinkButton
            aria-label={`used one ${line.name}`}
            disabled={save.isPending}
            onClick={() => save.mutate({ ...item.typed, stock: String(count - 1) })}
          >
            used one
          </LinkButton>
        )}
        <LinkButton
          aria-label={`bought one more ${line.name}`}
          disabled={restock.isPending}
          onClick={() => restock.mutate(item)}
        >
          bought one
        </LinkButton>
        <LinkButton aria-expanded={open} aria-label={`change ${line.name}`} onClick={toggle}>
          change
        </LinkButton>
      </Flex>
      {error && <Notice>{error.message}</Notice>}
      {open && (
        <Form
          item={item}
          choices={[{ id: line.product_id, label: line.name }]}
          done={toggle}
          remove={() => remove.mutate(line.id)}
        />
      )}
    </Box>
  );
}

type FormProps = { item?: ShelfItem; choices: Props["choices"]; done: () => void; remove?: () => void };

function Form({ item, choices, done, remove }: FormProps) {
  const [id] = useState(() => uuid());
  const [values, set] = useState({
    ...EMPTY,
    ...item?.typed,
    product_id: item?.typed.product_id ?? choices[0]?.id ?? "",
    stock: "",
  });
  const save = useSaveItem(item, id);
  const error = save.error as Problem | null;
  const text = (name: "stock" | "minimum", label: string) => (
    <Field label={label} error={error?.at(name)}>
      {(p) => (
        <Input
          {...p}
          inputMode="numeric"
          value={values[name]}
          onChange={(e) => set({ ...values, [name]: e.target.value })}
        />
      )}
    </Field>
  );
  return (
    <chakra.form
      noValidate
      py="8px"
      onSubmit={(e) => {
        e.preventDefault();
        save.mutate(values, { onSuccess: done });
      }}
    >
      <Grid templateColumns="1fr 1fr" gap="10px">
        <Field label="What" error={error?.at("product_id")}>
          {(p) => (
            <Select
              {...p}
              disabled={!!item}
              value={values.product_id}
              onChange={(e) => set({ ...values, product_id: e.target.value })}
            >
              {choices.map((c) => (
                <option key={c.id} value={c.id}>
                  {c.label}
                </option>
              ))}
            </Select>
          )}
        </Field>
        {text("stock", item ? "Counted now" : "How many")}
        {text("minimum", "Buy when fewer than")}
        <Field label="Bought on" error={error?.at("bought")}>
          {(p) => (
            <Input
              {...p}
              type="date"
              value={values.bought}
              onChange={(e) => set({ ...values, bought: e.target.value })}
            />
          )}
        </Field>
      </Grid>
      {error && <Notice>{error.message}</Notice>}
      <Flex gap="14px" mt="8px" align="center">
        <ActButton type="submit" look="line" disabled={save.isPending}>
          {item ? "Save" : "Add it"}
        </ActButton>
        <LinkButton type="button" onClick={done}>
          leave
        </LinkButton>
        {remove && (
          <LinkButton type="button" onClick={remove}>
            take it off
          </LinkButton>
        )}
      </Flex>
    </chakra.form>
  );
}
