// A pool's equipment: what is known of each piece, what follows from it, and what an unknown costs.
import { Box, chakra, Flex, Grid, Text } from "@chakra-ui/react";
import { useState } from "react";
import { v7 as uuid } from "uuid";

import { Problem } from "../../api/client";
import {
  type Piece,
  type PieceFields,
  useEquipment,
  useRemovePiece,
  useRestorePiece,
  useSavePiece,
} from "../../api/equipment";
import { type Kind, useEquipmentKinds } from "../../api/meta";
import { type Pool } from "../../api/pools";
import { ActButton, Field, Input, LinkButton, Notice } from "../../ui/controls";
import { Page, Waiting } from "../../ui/Page";
import { Papers } from "../../ui/Papers";
import { Photos, Thumbs } from "../../ui/Photos";
import { RecordFields } from "../../ui/RecordFields";
import { StateShape } from "../../ui/StateMark";
import { WhyLink } from "../../ui/WhyLink";
import { PoolParts } from "../../ui/PoolParts";

export function Equipment({ pool, switcher }: { pool: Pool; switcher: React.ReactNode }) {
  const kinds = useEquipmentKinds();
  const list = useEquipment(pool.id);
  const [open, setOpen] = useState<string | null>(null);
  const [gone, setGone] = useState<Piece | null>(null);
  const remove = useRemovePiece();
  const restore = useRestorePiece();
  if (!kinds.data || !list.data) return <Waiting error={kinds.error ?? list.error} />;
  const pieces = list.data;
  const look = pieces.flatMap((p) => p.facts).filter((f) => f.level === "act" || f.level === "watch").length;
  const failed = (remove.error ?? restore.error) as Problem | null;
  const missing = kinds.data.filter((k) => !pieces.some((p) => p.kind === k.id));
  return (
    <Page
      above={switcher}
      headline={
        pieces.length === 0
          ? "Write down what the pool has; unknown is a fine answer."
          : `${pieces.length} ${pieces.length === 1 ? "piece" : "pieces"} recorded. ${look ? `${look} ${look === 1 ? "thing" : "things"} to look at.` : "Nothing to look at."}`
      }
    >
      <PoolParts />
      {failed && <Notice>{failed.message}</Notice>}
      {gone && (
        <Text mb="8px">
          {gone.label} taken off.{" "}
          <LinkButton onClick={() => restore.mutate(gone.id, { onSuccess: () => setGone(null) })}>
            bring it back
          </LinkButton>
        </Text>
      )}
      {pieces.map((piece) => {
        const kind = kinds.data.find((k) => k.id === piece.kind)!;
        return (
          <Box key={piece.id} borderTop="1px solid" borderColor="hair" py="14px">
            <Grid
              templateColumns={{ base: "minmax(0,1fr)", md: "300px minmax(0,1fr) auto" }}
              gap={{ base: "6px", md: "24px" }}
            >
              <Box>
                <Text fontSize="20px" fontWeight={700} lineHeight="1.2">
                  {piece.label}
                </Text>
                <Text fontSize="14px">{piece.make_model}</Text>
                <Text fontSize="14px" color="muted">
                  {piece.known}
                </Text>
                {piece.note && (
                  <Text fontSize="14px" color="muted">
                    {piece.note}
                  </Text>
                )}
                {piece.papers.length > 0 && open !== piece.id && (
                  <Text fontSize="14px">
                    {piece.papers.map((p) => (
                      <a
                        key={p.id}
                        href={p.url}
                        download
                        style={{ textDecoration: "underline", marginRight: 12 }}
                      >
                        {p.name}
                      </a>
                    ))}
                  </Text>
                )}
                {piece.photos.length > 0 && open !== piece.id && (
                  <Box mt="6px">
                    <Thumbs photos={piece.photos} small />
                  </Box>
                )}
              </Box>
              <Box>
                {piece.facts.map((f) => (
                  <Flex key={f.text} gap="10px" align="baseline" mb="4px">
                    <Box pt="2px">
                      <StateShape level={f.level === "none" ? "fine" : f.level} />
                    </Box>
                    <Text fontWeight={f.level === "none" ? 400 : 700}>
                      {f.text} <WhyLink reasonId={f.reason_id} />
                    </Text>
                  </Flex>
                ))}
                {piece.missing.map((m) => (
                  <Text key={m} fontSize="14px" color="muted" pl="24px">
                    {m}
                  </Text>
                ))}
              </Box>
              <Flex gap="16px" align="start">
                <LinkButton
                  aria-expanded={open === piece.id}
                  aria-label={`change ${piece.label}`}
                  onClick={() => setOpen(open === piece.id ? null : piece.id)}
                >
                  change
                </LinkButton>
                <LinkButton
                  aria-label={`take off ${piece.label}`}
                  onClick={() => remove.mutate(piece, { onSuccess: () => setGone(piece) })}
                >
                  take off
                </LinkButton>
              </Flex>
            </Grid>
            {open === piece.id && (
              <>
                <Form key={piece.revision} pool={pool} kind={kind} piece={piece} done={() => setOpen(null)} />
                <Photos
                  photos={piece.photos}
                  owner={{ equipment_id: piece.id }}
                  label="Photos and receipts"
                />
                <Papers papers={piece.papers} equipmentId={piece.id} />
              </>
            )}
          </Box>
        );
      })}
      <Box borderTop={pieces.length ? "1px solid" : undefined} borderColor="hair" pt="14px">
        <Text fontWeight={700} mb="6px">
          {pieces.length ? "Also there?" : "What does it have?"}
        </Text>
        <Flex gap="8px" wrap="wrap">
          {missing.map((k) => (
            <ActButton
              key={k.id}
              type="button"
              look="line"
              px="14px"
              fontWeight={open === k.id ? 700 : 400}
              aria-expanded={open === k.id}
              onClick={() => setOpen(open === k.id ? null : k.id)}
            >
              {k.label}
            </ActButton>
          ))}
        </Flex>
        {missing.length < kinds.data.length && (
          <Flex gap="0 16px" wrap="wrap" mt="8px" align="baseline">
            <Text fontSize="14px" color="muted">
              A second one:
            </Text>
            {kinds.data
              .filter((k) => !missing.includes(k))
              .map((k) => (
                <LinkButton key={k.id} onClick={() => setOpen(open === k.id ? null : k.id)}>
                  {k.label.toLowerCase()}
                </LinkButton>
              ))}
          </Flex>
        )}
        {kinds.data
          .filter((k) => k.id === open)
          .map((k) => (
            <Form key={k.id} pool={pool} kind={k} done={() => setOpen(null)} />
          ))}
      </Box>
    </Page>
  );
}

function Form({ pool, kind, piece, done }: { pool: Pool; kind: Kind; piece?: Piece; done: () => void }) {
  const [id] = useState(() => uuid());
  const [values, setValues] = useState<PieceFields>({
    kind: kind.id,
    details: piece?.details ?? {},
    make_model: piece?.make_model ?? "",
    bought: piece?.bought ?? "",
    warranty_until: piece?.warranty_until ?? "",
    note: piece?.note ?? "",
  });
  const save = useSavePiece(pool.id, piece, id);
  const onSave = () => save.mutate(values, { onSuccess: done });
  const error = save.error as Problem | null;
  const at = (field: string) => error?.at(field);
  const change = (part: Partial<PieceFields>) => setValues({ ...values, ...part });
  return (
    <chakra.form
      noValidate
      onSubmit={(e) => {
        e.preventDefault();
        onSave();
      }}
      mt="14px"
      p="16px"
      border="1px solid"
      borderColor="ink"
      borderRadius="mark"
    >
      <Text fontWeight={700} mb="8px">
        {kind.label}{" "}
        <chakra.span fontWeight={400} color="muted" fontSize="14px">
          What you leave empty is unknown.
        </chakra.span>
      </Text>
      <Grid
        templateColumns={{ base: "minmax(0,1fr)", md: "repeat(4, minmax(0,1fr))" }}
        gap="12px"
        alignItems="start"
      >
        <RecordFields
          fields={kind.fields}
          details={values.details}
          at={at}
          change={(details) => change({ details })}
        />
        <Field label="Make and model" error={at("make_model")}>
          {(p) => (
            <Input
              {...p}
              value={values.make_model}
              placeholder="as on its plate"
              onChange={(e) => change({ make_model: e.target.value })}
            />
          )}
        </Field>
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
        <Field label="Warranty until" error={at("warranty_until")}>
          {(p) => (
            <Input
              {...p}
              type="date"
              value={values.warranty_until}
              onChange={(e) => change({ warranty_until: e.target.value })}
            />
          )}
        </Field>
        <Field label="Note" error={at("note")}>
          {(p) => (
            <Input
              {...p}
              value={values.note}
              maxLength={400}
              onChange={(e) => change({ note: e.target.value })}
            />
          )}
        </Field>
      </Grid>
      {error && (
        <Box mt="12px">
          <Notice>{at("kind") ?? error.message}</Notice>
        </Box>
      )}
      <Flex gap="16px" mt="14px" align="center">
        <ActButton type="submit" disabled={save.isPending}>
          {piece ? "Save" : "Add"}
        </ActButton>
        <LinkButton type="button" onClick={done}>
          leave
        </LinkButton>
      </Flex>
    </chakra.form>
  );
}
