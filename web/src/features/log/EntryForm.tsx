// An entry beside tests and doses: fields that may stay open, a note, when; the same as last time in one tap.
import { Box, Flex, Grid, Text } from "@chakra-ui/react";
import { useState } from "react";
import { v7 as uuid } from "uuid";

import { useChange } from "../../api/change";
import { Problem, type Schemas } from "../../api/client";
import { sendPhoto } from "../../api/files";
import { type LogEntry, saveEntry, type UsualEntry } from "../../api/log";
import { BeginGuide, CLEAN_FILTER } from "../../ui/BeginGuide";
import { Field, Input, LinkButton } from "../../ui/controls";
import { FileInput, PICTURES } from "../../ui/Photos";
import { RecordFields, type Details } from "../../ui/RecordFields";
import { Save } from "./forms";

/** Kinds that a guide can write: it is offered beside the form. */
const GUIDED = ["backwash", "filter_clean"];

type Props = {
  kind: Schemas["KindMeta"];
  poolId: string;
  event?: LogEntry;
  usual?: UsualEntry;
  close: () => void;
  saved?: (event: LogEntry) => void;
};

export function EntryForm({ kind, poolId, event, usual, close, saved }: Props) {
  const [id] = useState(() => uuid());
  const [details, setDetails] = useState<Details>((event?.details as Details | undefined) ?? {});
  const [note, setNote] = useState(event?.note ?? "");
  const [local, setLocal] = useState(event?.local ?? "");
  const [pictures, setPictures] = useState<File[]>([]);
  const [stored, setStored] = useState<{ event: LogEntry; said: string } | null>(null); // written, but a picture was refused
  const save = useChange(async () => {
    const body = { kind: kind.id, details, note, local };
    const said = JSON.stringify(body);
    const done =
      stored?.said === said ? stored.event : await saveEntry(poolId, event ?? stored?.event, id, body);
    setStored({ event: done, said });
    // Pictures that arrived are not sent twice.
    for (const picture of pictures) {
      await sendPhoto(picture, { event_id: done.id });
      setPictures((left) => left.filter((p) => p !== picture));
    }
    return done;
  }, ["log"]);
  const onSave = () =>
    save.mutate(undefined, {
      onSuccess: (done) => {
        close();
        saved?.(done);
      },
    });
  const error = save.error as Problem | null;
  const at = (field: string) => error?.at(field);
  const pick = !event && (
    <Box mt="12px">
      <Field
        label="Photos"
        error={at("file")}
        hint={pictures.length ? `${pictures.length} to be sent with it.` : undefined}
      >
        {(p) => (
          <FileInput
            {...p}
            type="file"
            accept={PICTURES}
            multiple
            onChange={(e) => setPictures([...(e.target.files ?? [])])}
          />
        )}
      </Field>
    </Box>
  );
  return (
    <>
      {!event && GUIDED.includes(kind.id) && (
        <BeginGuide poolId={poolId} subject="filter" label={CLEAN_FILTER} />
      )}
      <form
        noValidate
        onSubmit={(e) => {
          e.preventDefault();
          onSave();
        }}
      >
        <Flex justify="space-between" align="baseline" gap="12px" mb="12px">
          <Text as="h2" fontSize="20px" fontWeight={700}>
            {event ? `Correct: ${kind.label.toLowerCase()}` : kind.label}
          </Text>
          {usual && !event && (
            <LinkButton type="button" onClick={() => setDetails(usual.details as Details)}>
              as last time: {usual.text}
            </LinkButton>
          )}
        </Flex>
        <Grid templateColumns="minmax(0,1fr) minmax(0,1fr)" gap="12px" alignItems="start">
          <RecordFields fields={kind.fields} details={details} at={at} change={setDetails} first />
        </Grid>
        {kind.id === "photo" && pick}
        <Box mt="12px">
          <Field label="Note" error={at("note")}>
            {(p) => (
              <Input
                {...p}
                autoFocus={kind.fields.length === 0}
                value={note}
                maxLength={2000}
                onChange={(e) => setNote(e.target.value)}
              />
            )}
          </Field>
        </Box>
        <Box mt="12px">
          <Field label="When (the pool's clock)" error={at("local")} hint={event ? undefined : "Empty: now."}>
            {(p) => (
              <Input {...p} type="datetime-local" value={local} onChange={(e) => setLocal(e.target.value)} />
            )}
          </Field>
        </Box>
        {kind.id !== "photo" && pick}
        <Save busy={save.isPending} close={close} error={error} />
      </form>
    </>
  );
}
