// What a table of readings would bring in: how its columns are read, its first tests, and what is bad, odd or skipped.
import { Box, Flex, Grid, Text } from "@chakra-ui/react";

import { type Schemas } from "../../api/client";
import { type Matching } from "../../api/imports";
import { usePools } from "../../api/pools";
import { Field, Select } from "../../ui/controls";
import { ColumnHead } from "../../ui/Page";

type View = Schemas["ImportView"];
type Preview = Schemas["ReadingsPreview"];
export const many = (n: number, one: string, more = `${one}s`) =>
  `${n.toLocaleString("en-US")} ${n === 1 ? one : more}`;

type ReadingsProps = {
  view: View;
  preview: Preview;
  settings: Matching;
  change: (part: Partial<Matching>) => void;
};

export function Readings({ view, preview, settings, change }: ReadingsProps) {
  const pools = usePools().data ?? [];
  const setColumn = (i: number, role: string, unit?: string) =>
    change({
      columns: settings.columns.map((c, j) =>
        j === i ? { role, unit: unit ?? view.roles.find((r) => r.id === role)?.units?.[0]?.id ?? "" } : c,
      ),
    });
  const pick = (
    label: string,
    value: string,
    choices: { id: string; label: string }[],
    set: (id: string) => void,
  ) => (
    <Field label={label}>
      {(p) => (
        <Select {...p} value={value} onChange={(e) => set(e.target.value)}>
          {choices.map((c) => (
            <option key={c.id} value={c.id}>
              {c.label}
            </option>
          ))}
        </Select>
      )}
    </Field>
  );
  return (
    <Grid
      templateColumns={{ base: "minmax(0,1fr)", lg: "minmax(0,1fr) 400px" }}
      gap={{ base: "28px", lg: "40px" }}
      alignItems="start"
    >
      <Box minW={0}>
        <ColumnHead
          title="What the columns hold"
          note={`${many(preview.rows, "row")}, ${preview.encoding}`}
        />
        {preview.columns
          .map((given, i) => ({
            ...given,
            role: settings.columns[i]?.role ?? "",
            unit: settings.columns[i]?.unit ?? "",
          }))
          .map((column, i) => (
            <Grid
              key={i}
              templateColumns={{ base: "minmax(0,1fr)", md: "minmax(0,1fr) 300px" }}
              gap={{ base: "6px", md: "20px" }}
              borderTop="1px solid"
              borderColor="hair"
              py="10px"
              alignItems="center"
            >
              <Box minW={0}>
                <Text fontWeight={column.role ? 700 : 400} overflowWrap="anywhere">
                  {column.heading}
                </Text>
                <Text fontSize="14px" color="muted" overflowWrap="anywhere">
                  {column.examples.join(" · ") || "empty"}
                </Text>
              </Box>
              <Flex gap="6px">
                <Select
                  aria-label={`${column.heading} holds`}
                  value={column.role}
                  color={column.role ? "ink" : "muted"}
                  onChange={(e) => setColumn(i, e.target.value)}
                >
                  {view.roles.map((r) => (
                    <option key={r.id} value={r.id}>
                      {r.label}
                    </option>
                  ))}
                </Select>
                {(view.roles.find((r) => r.id === column.role)?.units?.length ?? 0) > 1 && (
                  <Select
                    aria-label={`Unit of ${column.heading}`}
                    w="110px"
                    flexShrink={0}
                    value={column.unit}
                    onChange={(e) => setColumn(i, column.role, e.target.value)}
                  >
                    {view.roles
                      .find((r) => r.id === column.role)!
                      .units!.map((u) => (
                        <option key={u.id} value={u.id}>
                          {u.label}
                        </option>
                      ))}
                  </Select>
                )}
              </Flex>
            </Grid>
          ))}
        <Grid
          templateColumns={{ base: "minmax(0,1fr)", md: "1fr 1fr" }}
          gap="12px"
          mt="20px"
          pt="16px"
          borderTop="2px solid"
          borderColor="ink"
        >
          {pick(
            "Into the pool",
            settings.pool_id,
            pools.map((p) => ({ id: p.id, label: p.name })),
            (pool_id) => change({ pool_id }),
          )}
          {pick("Dates are written", settings.order, view.orders, (order) => change({ order }))}
          {pick(
            "Decimals are written with a",
            settings.decimal,
            [
              { id: "point", label: "point" },
              { id: "comma", label: "comma" },
            ],
            (decimal) => change({ decimal }),
          )}
          {pick("Read by, where a row does not say", settings.method, view.methods, (method) =>
            change({ method }),
          )}
        </Grid>
      </Box>
      <Box minW={0}>
        {preview.remarks.length > 0 && (
          <Box mb="20px">
            {preview.remarks.map((r) => (
              <Text key={r} fontSize="14px" borderLeft="2px solid" borderColor="ink" pl="10px" mb="6px">
                {r}
              </Text>
            ))}
          </Box>
        )}
        {!preview.problem && (
          <>
            <Told title="Cannot be read" count={preview.bad} told={preview.bad_told} strong />
            <Told title="Look odd" count={preview.doubtful} told={preview.doubtful_told} />
            <ColumnHead title="What would be written" note={preview.span} />
            {preview.tests.map((t) => (
              <Box key={t.line} borderTop="1px solid" borderColor="hair" py="8px">
                <Flex justify="space-between" fontSize="14px" color="muted">
                  <Text>{t.local}</Text>
                  <Text>{t.performed_by}</Text>
                </Flex>
                <Text>{t.readings}</Text>
                {t.note && (
                  <Text fontSize="14px" color="muted">
                    {t.note}
                  </Text>
                )}
              </Box>
            ))}
            {preview.tests.length === 0 && (
              <Text fontSize="14px" color="muted" mb="8px">
                Nothing as it is read now.
              </Text>
            )}
            <Counts preview={preview} />
          </>
        )}
      </Box>
    </Grid>
  );
}

function Counts({ preview }: { preview: Preview }) {
  const more = preview.new + preview.notes - preview.tests.length;
  const lines = [
    more > 0 && `and ${many(more, "more", "more")}.`,
    preview.again > 0 && `${many(preview.again, "row")} skipped: in the log already, or twice in the file.`,
    preview.empty > 0 && `${many(preview.empty, "row")} without a reading.`,
    preview.before_pool > 0 &&
      `${many(preview.before_pool, "test")} from before this pool was added to Kumpan: kept as its history.`,
  ].filter(Boolean);
  return (
    <Box borderTop="1px solid" borderColor="hair" pt="8px">
      {lines.map((l) => (
        <Text key={String(l)} fontSize="14px" color="muted">
          {l}
        </Text>
      ))}
    </Box>
  );
}

function Told({
  title,
  count,
  told,
  strong,
}: {
  title: string;
  count: number;
  told: Schemas["Told"][];
  strong?: boolean;
}) {
  if (count === 0) return null;
  return (
    <Box mb="24px">
      <ColumnHead title={title} note={many(count, "row")} />
      {told.map((t) => (
        <Box key={`${t.line} ${t.column} ${t.message}`} borderTop="1px solid" borderColor="hair" py="6px">
          <Text fontSize="14px" color="muted">
            line {t.line}, {t.column}
          </Text>
          <Text fontSize="14px" color={strong ? "caution" : "ink"} fontWeight={strong ? 700 : 400}>
            {t.message}
          </Text>
        </Box>
      ))}
    </Box>
  );
}
