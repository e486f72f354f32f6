// Ordered work under way: sheets, ticks of a dose plan, and what is said of any sheet.
import { type QueryClient, useQuery, useQueryClient } from "@tanstack/react-query";
import { useEffect, useState } from "react";
import { v7 as uuid } from "uuid";

import { outbox } from "../lib/outbox";
import { refresh, useChange } from "./change";
import { api, connection, Problem, type Schemas, unwrap } from "./client";

export type Sheet = Schemas["Sheet"];
export type SheetStep = Schemas["SheetStep"];
export type TodayLine = Schemas["TodayLine"];
export type Word = { key?: string; verb: string; value?: string };

export const useSheet = (id: string) =>
  useQuery({
    queryKey: ["sheet", id],
    // A second phone may be at the same work.
    refetchInterval: 5_000,
    queryFn: ({ signal }) =>
      unwrap(api.GET("/api/v1/sheets/{sheet_id}", { signal, params: { path: { sheet_id: id } } })),
  });

export type Tick = { sheetId: string; key: string; id: string; amount?: string; unit?: string };

export const useTickStep = () =>
  useChange(
    ({ sheetId, key, id, amount, unit }: Tick) =>
      unwrap(
        api.POST("/api/v1/sheets/{sheet_id}/steps/{key}/tick", {
          params: { path: { sheet_id: sheetId, key } },
          body: {
            id,
            at: new Date().toISOString(),
            performed_by: "",
            amount: amount ?? null,
            unit: unit ?? null,
          },
        }),
      ),
    ["log"],
  );

/** What the equipment does not say of a machine, by name. */
export type Given = Record<string, string>;
/** Begin a complaint's guide: cloudy water, stains, foam, a falling level, stinging eyes. */
export const useBeginComplaint = (poolId: string) =>
  useChange(
    ({ id, kind }: { id: string; kind: string }) =>
      unwrap(
        api.POST("/api/v1/pools/{pool_id}/complaints", {
          params: { path: { pool_id: poolId } },
          body: { id, at: new Date().toISOString(), kind, performed_by: "" },
        }),
      ),
    ["log"],
    { wait: true },
  );

export type NewGuide = { id: string; subject: string; given?: Given; insteadOf?: string };

export const useBeginGuide = (poolId: string) =>
  useChange(
    ({ id, subject, given = {}, insteadOf }: NewGuide) =>
      unwrap(
        api.POST("/api/v1/pools/{pool_id}/guides", {
          params: { path: { pool_id: poolId } },
          body: {
            id,
            at: new Date().toISOString(),
            subject,
            given,
            instead_of: insteadOf ?? null,
            performed_by: "",
          },
        }),
      ),
    ["log"],
  );

let sending = false;

/** Send what waits, in its order. What the server refuses is dropped and told; what it does not answer to waits on. */
export async function flush(client: QueryClient, refused: (why: Problem) => void) {
  if (sending) return;
  sending = true;
  try {
    for (let one = outbox.get()[0]; one; one = outbox.get()[0]) {
      const { sheetId, ...body } = one;
      try {
        const sheet = await unwrap(
          api.POST("/api/v1/sheets/{sheet_id}/marks", { params: { path: { sheet_id: sheetId } }, body }),
        );
        client.setQueryData(["sheet", sheetId], sheet);
      } catch (error) {
        const why = error as Problem;
        if (!(error instanceof Problem) || why.status === 0 || why.status >= 500) return;
        refused(why);
        void client.invalidateQueries({ queryKey: ["sheet", sheetId] });
      }
      outbox.drop(one.id);
      void refresh(client, ["log"]);
    }
  } finally {
    sending = false;
  }
}

/** Say something of a sheet: kept on the device first, so that it is lost neither by a lost server nor by a reload. */
export function useSay(sheetId: string) {
  const client = useQueryClient();
  const [why, setWhy] = useState<Problem | null>(null);
  useEffect(() => {
    void flush(client, setWhy);
    return connection.subscribe((online) => online && void flush(client, setWhy));
  }, [client]);
  const say = ({ key = "", verb, value = "" }: Word) => {
    setWhy(null);
    outbox.add({ sheetId, id: uuid(), at: new Date().toISOString(), key, verb, value, performed_by: "" });
    void flush(client, setWhy);
  };
  return { say, why };
}
