// One product of the shelf: the product and what is left first, the rest for who wants more said.
import { Box, chakra, Flex, Grid, Text } from "@chakra-ui/react";
import { useState } from "react";
import { v7 as uuid } from "uuid";

import { Problem } from "../../api/client";
import { type Meta } from "../../api/meta";
import { type ShelfFields, type ShelfItem, useSaveItem } from "../../api/shelf";
import { ActButton, Field, Input, LinkButton, Notice, Select } from "../../ui/controls";

type Name = "stock" | "pack" | "minimum" | "rate";
export const EMPTY: ShelfFields = {
  product_id: "",
  strength: "",
  stock: "",
  stock_unit: "",
  pack: "",
  pack_unit: "",
  price: "",
  minimum: "",
  minimum_unit: "",
  bought: "",
  kept: "",
  kept_unit: "f",
  rate: "",
  rate_unit: "",
  rate_per: "gal",
};
type Props = {
  meta: Meta;
  unitSystem: string;
  item?: ShelfItem;
  left?: string;
  done: () => void;
  remove?: () => void;
};

export function ItemForm({ meta, unitSystem, item, left, done, remove }: Props) {
  const [id] = useState(() => uuid());
  const [values, setValues] = useState<ShelfFields>({
    ...EMPTY,
    ...(unitSystem === "us" ? {} : { kept_unit: "c", rate_per: "l" }),
    ...item?.typed,
    stock: "",
  });
  const change = (part: Partial<ShelfFields>) => setValues({ ...values, ...part });
  const product = meta.products.find((p) => p.id === values.product_id);
  const units = product?.units ?? [];
  const save = useSaveItem(item, id);
  const onSave = () => save.mutate(values, { onSuccess: done });
  const error = save.error as Problem | null;
  const at = (field: string) => error?.at(field);
  function choose(next: string) {
    const first = meta.products.find((p) => p.id === next)?.units[0]?.id ?? "";
    change({
      product_id: next,
      strength: "",
      rate: "",
      stock_unit: first,
      pack_unit: first,
      minimum_unit: first,
      rate_unit: first,
    });
  }
  const amount = (name: Name, label: string, placeholder = "") => {
    const unit = `${name}_unit` as const;
    return (
      <Field label={label} error={at(name) ?? at(unit)}>
        {(p) => (
          <Flex gap="4px">
            <Input
              {...p}
              inputMode="decimal"
              minW="64px"
              value={values[name]}
              placeholder={placeholder}
              onChange={(e) => change({ [name]: e.target.value })}
            />
            <Select
              aria-label={`Unit of ${label.toLowerCase()}`}
              value={values[unit] || units[0]?.id || ""}
              onChange={(e) => change({ [unit]: e.target.value })}
              w="126px"
              px="8px"
              fontSize="14px"
              flexShrink={0}
            >
              {units.map((u) => (
                <option key={u.id} value={u.id}>
                  {u.label}
                </option>
              ))}
            </Select>
          </Flex>
        )}
      </Field>
    );
  };
  const text = (name: "strength" | "price" | "kept", label: string, placeholder = "") => (
    <Field label={label} error={at(name)}>
      {(p) => (
        <Input
          {...p}
          inputMode="decimal"
          value={values[name]}
          placeholder={placeholder}
          onChange={(e) => change({ [name]: e.target.value })}
        />
      )}
    </Field>
  );
  const usual =
    product?.strength == null
      ? ""
      : (product.strength * 100).toLocaleString("en", { maximumFractionDigits: 2 });
  return (
    <chakra.form
      noValidate
      onSubmit={(e) => {
        e.preventDefault();
        onSave();
      }}
      mt="10px"
      p="16px"
      border="1px solid"
      borderColor="ink"
      borderRadius="mark"
    >
      <Grid
        templateColumns={{ base: "minmax(0,1fr)", md: "repeat(2, minmax(0,1fr))" }}
        gap="12px"
        alignItems="start"
      >
        <Field label="Product" error={at("product_id")}>
          {(p) => (
            <Select
              {...p}
              autoFocus={!item}
              disabled={!!item}
              value={values.product_id}
              onChange={(e) => choose(e.target.value)}
            >
              <option value="" disabled>
                choose …
              </option>
              {meta.products.map((m) => (
                <option key={m.id} value={m.id}>
                  {m.name}
                </option>
              ))}
            </Select>
          )}
        </Field>
        {product &&
          amount(
            "stock",
            item ? "Counted now" : "Left",
            item ? (left ? `about ${left}` : "not counted") : "",
          )}
        {product && amount("pack", "A package holds")}
        {product && (
          <Grid templateColumns="1fr 1fr" gap="12px">
            {text("price", "and costs")}
            {product.by_label ? <Box /> : text("strength", "Strength, %", usual)}
          </Grid>
        )}
        {product && amount("minimum", "Buy when less is left than")}
        {product?.by_label &&
          amount("rate", `Its label's rate per 10,000 ${values.rate_per === "l" ? "L" : "gal"}`)}
        {product && (
          <Grid templateColumns="1fr 1fr" gap="12px">
            <Field label="Bought on" error={at("bought")}>
              {(p) => (
                <Input
                  {...p}
                  type="date"
                  value={values.bought}
                  onChange={(e) => change({ bought: e.target.value })}
                />
              )}
            </Field>
            {product.ages ? (
              text(
                "kept",
                `Kept at, ${values.kept_unit === "f" ? "°F" : "°C"}`,
                values.kept_unit === "f" ? "77" : "25",
              )
            ) : (
              <Box />
            )}
          </Grid>
        )}
      </Grid>
      {product && (
        <Text fontSize="14px" color="muted" mt="10px">
          Only the product is needed.{" "}
          {item
            ? "An empty count leaves the last one, less what was poured since."
            : "What you pour draws on what is left."}
        </Text>
      )}
      {error && (
        <Box mt="10px">
          <Notice>{error.message}</Notice>
        </Box>
      )}
      <Flex gap="16px" mt="12px" align="center">
        <ActButton type="submit" disabled={save.isPending || !product}>
          {item ? "Save" : "Add it"}
        </ActButton>
        <LinkButton type="button" onClick={done}>
          leave
        </LinkButton>
        {remove && (
          <LinkButton type="button" onClick={remove}>
            take it off the shelf
          </LinkButton>
        )}
      </Flex>
    </chakra.form>
  );
}
