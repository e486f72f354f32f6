// What stands ready: a plain list that the plan chooses from, with strength, stock and price.
import { Box, Flex, Grid, Text } from "@chakra-ui/react";
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";

import { api, unwrap, type Problem, type Schemas } from "../../api/client";
import { useMeta, type Meta } from "../../api/queries";
import { ActButton, Field, Input, LinkButton, Notice, Select } from "../../ui/controls";
import { Page, Waiting } from "../../ui/Page";

type Row = Schemas["ProductAtHand"];
const EMPTY: Row = { product_id: "", strength: "", stock: "", stock_unit: "", pack: "", pack_unit: "", price: "" };

export function ShelfPage() {
  const meta = useMeta().data;
  const list = useQuery({ queryKey: ["products-at-hand"], queryFn: ({ signal }) => unwrap(api.GET("/api/v1/products-at-hand", { signal })) });
  if (!meta || !list.data) return <Waiting error={list.error} />;
  return <Form meta={meta} given={list.data} />;
}

function Form({ meta, given }: { meta: Meta; given: Schemas["ProductsView"] }) {
  const client = useQueryClient();
  const [rows, setRows] = useState<Row[]>(given.products ?? []);
  const save = useMutation({
    mutationFn: (products: Row[] | null) => unwrap(api.PUT("/api/v1/products-at-hand", { body: { products, revision: given.revision } })),
    onSuccess: () => client.invalidateQueries(),
  });
  const error = save.error as Problem | null;
  const at = (field: string) => error?.at(field);
  const change = (index: number, part: Partial<Row>) => setRows(rows.map((r, i) => (i === index ? { ...r, ...part } : r)));
  const unchanged = JSON.stringify(rows) === JSON.stringify(given.products ?? []);
  return (
    <Page
      above="Products that stand ready"
      headline={given.products === null ? "Say what stands ready, and plans will use it." : `${rows.length} ${rows.length === 1 ? "product stands" : "products stand"} ready.`}
    >
      <Text maxW="620px" mb="16px">
        Plans take what is listed here first and say what to buy. Leave it empty and they name the usual products. Only the product is needed; stock, package and price make it
        say what is short and what a plan costs.
      </Text>
      <form onSubmit={(e) => { e.preventDefault(); save.mutate(rows); }} noValidate>
        {rows.map((row, i) => <ProductRow key={i} row={row} meta={meta} at={(f) => at(`products.${i}.${f}`)} change={(part) => change(i, part)} remove={() => setRows(rows.filter((_, j) => j !== i))} />)}
        <Flex gap="20px" mt="16px" align="center" wrap="wrap">
          <ActButton type="button" look="line" onClick={() => setRows([...rows, EMPTY])}>Add a product</ActButton>
          <ActButton type="submit" disabled={save.isPending || unchanged}>Save</ActButton>
          {save.isSuccess && unchanged && <Text role="status">Saved.</Text>}
          {given.products !== null && <LinkButton type="button" onClick={() => save.mutate(null)}>forget the list</LinkButton>}
        </Flex>
        {error && <Box mt="16px"><Notice>{error.message}</Notice></Box>}
      </form>
    </Page>
  );
}

type RowProps = { row: Row; meta: Meta; at: (field: string) => string | undefined; change: (part: Partial<Row>) => void; remove: () => void };

function ProductRow({ row, meta, at, change, remove }: RowProps) {
  const product = meta.products.find((p) => p.id === row.product_id);
  const units = product?.units ?? [];
  const usual = product?.strength == null ? "" : (product.strength * 100).toLocaleString("en", { maximumFractionDigits: 2 });
  const unit = (name: "stock_unit" | "pack_unit", label: string) => (
    <Select aria-label={label} value={row[name]} onChange={(e) => change({ [name]: e.target.value })} w={{ base: "180px", md: "128px" }} px="8px" fontSize="14px" flexShrink={0}>
      {units.map((u) => <option key={u.id} value={u.id}>{u.label}</option>)}
    </Select>
  );
  function choose(id: string) {
    const first = meta.products.find((p) => p.id === id)?.units[0]?.id ?? "";
    change({ product_id: id, strength: "", stock_unit: first, pack_unit: first });
  }
  return (
    <Grid templateColumns={{ base: "1fr 1fr", md: "minmax(180px,1fr) 96px 232px 232px 96px auto" }} gap="12px" py="12px" borderTop="1px solid" borderColor="hair" alignItems="start">
      <Box gridColumn={{ base: "1 / -1", md: "auto" }}>
        <Field label="Product" error={at("product_id")}>
          {(p) => (
            <Select {...p} value={row.product_id} onChange={(e) => choose(e.target.value)}>
              <option value="" disabled>choose …</option>
              {meta.products.map((m) => <option key={m.id} value={m.id}>{m.name}</option>)}
            </Select>
          )}
        </Field>
      </Box>
      <Field label="Strength, %" error={at("strength")}>
        {(p) => <Input {...p} inputMode="decimal" value={row.strength ?? ""} placeholder={usual} onChange={(e) => change({ strength: e.target.value })} />}
      </Field>
      <Box gridColumn={{ base: "1 / -1", md: "auto" }}><Field label="Left" error={at("stock") ?? at("stock_unit")}>
        {(p) => <Flex gap="4px"><Input {...p} inputMode="decimal" value={row.stock ?? ""} onChange={(e) => change({ stock: e.target.value })} />{unit("stock_unit", "Unit of what is left")}</Flex>}
      </Field></Box>
      <Box gridColumn={{ base: "1 / -1", md: "auto" }}><Field label="A package holds" error={at("pack") ?? at("pack_unit")}>
        {(p) => <Flex gap="4px"><Input {...p} inputMode="decimal" value={row.pack ?? ""} onChange={(e) => change({ pack: e.target.value })} />{unit("pack_unit", "Unit of a package")}</Flex>}
      </Field></Box>
      <Field label="and costs" error={at("price")}>
        {(p) => <Input {...p} inputMode="decimal" value={row.price ?? ""} onChange={(e) => change({ price: e.target.value })} />}
      </Field>
      <Box pt={{ base: 0, md: "24px" }} alignSelf={{ base: "end", md: "start" }}><LinkButton type="button" minH="44px" aria-label={`remove ${product?.name ?? "this product"}`} onClick={remove}>remove</LinkButton></Box>
    </Grid>
  );
}
