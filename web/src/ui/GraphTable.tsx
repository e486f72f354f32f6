// What the graphs show, as a table.
import { Box, chakra, Table } from "@chakra-ui/react";

import { type Schemas } from "../api/client";

type Series = Schemas["Series"];
const ms = (text: string) => new Date(text).getTime();

/** One line a test. */
export function GraphTable({ series, zone }: { series: Series[]; zone: string }) {
  const form = new Intl.DateTimeFormat("en", { dateStyle: "medium", timeStyle: "short", timeZone: zone });
  const times = [...new Set(series.flatMap((s) => s.readings.map((r) => r.at)))].sort(
    (a, b) => ms(b) - ms(a),
  );
  return (
    <Box overflowX="auto" tabIndex={0} role="region" aria-label="Readings as a table">
      <Table.Root fontSize="14px">
        <Table.Header>
          <Table.Row bg="transparent">
            <Table.ColumnHeader color="ink">When</Table.ColumnHeader>
            {series.map((s) => (
              <Table.ColumnHeader key={s.measure} color="ink" textAlign="end">
                {s.label}
                {s.unit && `, ${s.unit}`}
              </Table.ColumnHeader>
            ))}
          </Table.Row>
        </Table.Header>
        <Table.Body>
          {times.map((t) => (
            <Table.Row key={t} bg="transparent">
              <Table.Cell borderColor="hair" whiteSpace="nowrap">
                {form.format(ms(t))}
              </Table.Cell>
              {series.map((s) => {
                const r = s.readings.find((p) => p.at === t);
                return (
                  <Table.Cell
                    key={s.measure}
                    borderColor="hair"
                    textAlign="end"
                    fontWeight={r?.level === "act" ? 700 : 400}
                  >
                    {r
                      ? r.value.toLocaleString("en", {
                          minimumFractionDigits: s.decimals,
                          maximumFractionDigits: s.decimals,
                        })
                      : ""}
                    {r?.level === "act" && <chakra.span aria-label="out of band"> ●</chakra.span>}
                  </Table.Cell>
                );
              })}
            </Table.Row>
          ))}
        </Table.Body>
      </Table.Root>
    </Box>
  );
}
