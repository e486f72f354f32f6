// The pool: added on one page, changed on the same.
import { zodResolver } from "@hookform/resolvers/zod";
import { Box, Flex, Grid, Text } from "@chakra-ui/react";
import { useState } from "react";
import { useForm, useWatch, type UseFormReturn } from "react-hook-form";
import { Link, useNavigate } from "react-router";
import { v7 as uuid } from "uuid";

import { useAccount } from "../../api/accounts";
import { AccountSettings } from "./AccountSettings";
import { Problem } from "../../api/client";
import { type Meta, useMeta } from "../../api/meta";
import {
  type Pool,
  useArchivedPools,
  useArchivePool,
  useSavePool,
  useUnarchivePool,
  useVolume,
} from "../../api/pools";
import { write } from "../../lib/store";
import { useWide } from "../../lib/wide";
import { ActButton, Field, Input, LinkButton, Notice, Select } from "../../ui/controls";
import { ColumnHead, Page, Waiting } from "../../ui/Page";
import { PoolSwitch, usePool } from "../../ui/PoolSwitch";
import { WhyLink } from "../../ui/WhyLink";
import { bodyOf, defaults, poolSchema, WAYS, type PoolForm } from "./form";
import { Equipment } from "./Equipment";
import { PoolParts } from "../../ui/PoolParts";
import { PoolDrawing } from "./PoolDrawing";
import { Proofs } from "./Proofs";
import { Settings } from "./Settings";
import { VolumeFields } from "./VolumeFields";

export function PoolPage({ adding = false }: { adding?: boolean }) {
  const { pool, choose, pools } = usePool();
  const meta = useMeta().data;
  const account = useAccount().data;
  if (!meta || !account || !pools.data) return <Waiting error={pools.error} />;
  if (adding || !pool) return <Form key="new" meta={meta} unitSystem={account.unit_system} />;
  return (
    <Form
      key={pool.id}
      pool={pool}
      meta={meta}
      unitSystem={account.unit_system}
      switcher={<PoolSwitch pool={pool} pools={pools.data} choose={choose} />}
    />
  );
}

export const NewPoolPage = () => <PoolPage key="new" adding />;

export function TargetsPage() {
  const { pool, choose, pools } = usePool();
  const meta = useMeta().data;
  if (!meta || !pool) return <Waiting error={pools.error} />;
  return (
    <Page
      above={<PoolSwitch pool={pool} pools={pools.data ?? []} choose={choose} />}
      headline={`${pool.name}: ${pool.school_label}.`}
    >
      <PoolParts />
      <Settings key={pool.id} pool={pool} meta={meta} />
    </Page>
  );
}

export function EquipmentPage() {
  const { pool, choose, pools } = usePool();
  if (!pool) return <Waiting error={pools.error} />;
  return (
    <Equipment
      key={pool.id}
      pool={pool}
      switcher={<PoolSwitch pool={pool} pools={pools.data ?? []} choose={choose} />}
    />
  );
}

type Props = { pool?: Pool; meta: Meta; unitSystem: string; switcher?: React.ReactNode };

function Form({ pool, meta, unitSystem, switcher }: Props) {
  const navigate = useNavigate();
  const [id] = useState(() => uuid());
  const form = useForm<PoolForm>({
    resolver: zodResolver(poolSchema(meta)),
    defaultValues: defaults(pool, unitSystem),
    mode: "onSubmit",
  }); // judged while leaving a field, a message would move what is being pressed
  const save = useSavePool(pool, id);
  const onSave = (values: PoolForm) =>
    save.mutate(bodyOf(values), {
      onSuccess: (saved) => {
        write("kumpan.pool", saved.id);
        if (!pool) void navigate("/bench");
      },
    });
  const error = save.error as Problem | null;
  const wide = useWide();
  // Prefilled from the device: two fields fewer to read unless they are wrong.
  const [where, setWhere] = useState(!!pool);
  const at = (field: string) => error?.at(field);
  const {
    register,
    formState: { errors },
  } = form;
  const chosen = useWatch({
    control: form.control,
    name: ["surface", "chlorine_source", "installation", "sanitizer"],
  });
  const asked = ["surface", "chlorine_source", "installation", "sanitizer"] as const;
  const choice = (name: (typeof asked)[number], label: string) => (
    <Field
      label={label}
      error={errors[name]?.message ?? at(name)}
      hint={meta.pool_choices[name]!.find((c) => c.id === chosen[asked.indexOf(name)])?.costs ?? undefined}
    >
      {(props) => (
        <Select {...props} {...register(name)}>
          <option value="" disabled>
            choose …
          </option>
          {meta.pool_choices[name]!.map((c) => (
            <option key={c.id} value={c.id}>
              {c.label}
            </option>
          ))}
        </Select>
      )}
    </Field>
  );
  return (
    <Page
      above={switcher ?? "A new pool"}
      aside={
        pool && (
          <Link to="/pool/new" style={{ textDecoration: "underline" }}>
            add a pool
          </Link>
        )
      }
      headline={
        pool
          ? `${pool.name} holds ${pool.volume_text}, give or take ${Math.round(pool.volume_within * 100)} %.`
          : "One page, then test the water."
      }
    >
      {pool && <PoolParts />}
      <Grid
        templateColumns={{ base: "minmax(0,1fr)", lg: "minmax(0,560px) minmax(0,1fr)" }}
        gap={{ base: "24px", lg: "48px" }}
      >
        <form onSubmit={(e) => void form.handleSubmit(onSave)(e)} noValidate>
          <Grid templateColumns={{ base: "1fr", md: "1fr 1fr" }} gap="16px">
            <Field label="Name" error={errors.name?.message ?? at("name")}>
              {(p) => <Input {...p} autoFocus={!pool} {...register("name")} placeholder="Back garden" />}
            </Field>
            <VolumeFields form={form} meta={meta} at={at} result={!wide && <VolumeResult form={form} />} />
            {choice("surface", "Surface")}
            {choice("chlorine_source", "How it is chlorinated")}
            {choice("installation", "In-ground or above-ground")}
            {choice("sanitizer", "Sanitizer")}
            {!where && (
              <Box gridColumn="1 / -1" fontSize="14px" color="muted">
                In {form.getValues("place") || "a place to name"}, on{" "}
                {form.getValues("time_zone").replaceAll("_", " ")} time.{" "}
                <LinkButton type="button" onClick={() => setWhere(true)}>
                  change
                </LinkButton>
              </Box>
            )}
            {where && (
              <Field label="Place" error={at("place")}>
                {(p) => <Input {...p} {...register("place")} />}
              </Field>
            )}
            {where && (
              <Field label="Time zone" error={errors.time_zone?.message ?? at("time_zone")}>
                {(p) => (
                  <Select {...p} {...register("time_zone")}>
                    {zones(pool?.time_zone).map((z) => (
                      <option key={z} value={z}>
                        {z.replaceAll("_", " ")}
                      </option>
                    ))}
                  </Select>
                )}
              </Field>
            )}
            {where && (
              <Field
                label="Latitude"
                hint="For sunset and weather. May stay empty."
                error={errors.latitude?.message ?? at("latitude")}
              >
                {(p) => <Input {...p} {...register("latitude")} inputMode="text" placeholder="41.5" />}
              </Field>
            )}
            {where && (
              <Field label="Longitude" error={errors.longitude?.message ?? at("longitude")}>
                {(p) => <Input {...p} {...register("longitude")} inputMode="text" placeholder="-93.6" />}
              </Field>
            )}
          </Grid>
          {error && (
            <Box mt="16px">
              <Notice>{error.message}</Notice>
            </Box>
          )}
          <Flex gap="20px" mt="20px" align="center">
            <ActButton type="submit" disabled={save.isPending}>
              {pool ? "Save" : "Add this pool"}
            </ActButton>
            {save.isSuccess && <Text role="status">Saved.</Text>}
          </Flex>
        </form>
        <Box>
          {wide && <VolumeResult form={form} />}
          {pool && <Proofs pool={pool} />}
          {pool && (
            <Box mt="28px">
              <AccountSettings />
            </Box>
          )}
          {pool && <Archive pool={pool} />}
        </Box>
      </Grid>
    </Page>
  );
}

function zones(current?: string): string[] {
  const known = Intl.supportedValuesOf("timeZone");
  const wanted = [current, Intl.DateTimeFormat().resolvedOptions().timeZone].filter(
    (z): z is string => !!z && !known.includes(z),
  );
  return [...new Set([...wanted, ...known])];
}

function VolumeResult({ form }: { form: UseFormReturn<PoolForm> }) {
  const values = useWatch({ control: form.control });
  const volume = bodyOf(values as PoolForm).volume;
  const ready = [volume.amount, volume.length, volume.typical, volume.meter_to, volume.hours].some(
    (t) => (t ?? "").trim() !== "",
  );
  const result = useVolume(volume, ready);
  const told = ready && !result.error ? result.data : undefined;
  const sized = (text?: string) => (text?.trim() ? `${text.trim()} ${volume.unit}` : "");
  return (
    <Box mb="24px" aria-live="polite">
      <ColumnHead title="Water it holds" note={WAYS[values.how ?? "typed"]} />
      <Text fontSize={{ base: "36px", md: "44px" }} fontWeight={800} lineHeight="1.1">
        {told ? told.text : "–"}
      </Text>
      <Flex gap="12px" align="baseline" wrap="wrap" fontSize="14px" color="muted">
        <Text>
          {told
            ? told.note
            : ready && result.error
              ? result.error.message
              : "It appears here, drawn to scale, as you type."}{" "}
          {told && <WhyLink reasonId="volume" />}
        </Text>
      </Flex>
      {told && (
        <PoolDrawing
          volume={told}
          sizes={{
            length: sized(volume.length),
            width: sized(volume.plan === "round" ? "" : volume.width),
            shallow: sized(volume.shallow),
            deep: sized(
              volume.bottom === "level" ? "" : volume.bottom === "hopper" ? volume.wall : volume.deep,
            ),
          }}
        />
      )}
    </Box>
  );
}

function Archive({ pool }: { pool: Pool }) {
  const [gone, setGone] = useState<Pool | null>(null);
  const archive = useArchivePool();
  const unarchive = useUnarchivePool();
  const others = (useArchivedPools().data ?? []).filter((p) => p.id !== gone?.id);
  return (
    <Box fontSize="14px">
      {gone ? (
        <LinkButton onClick={() => unarchive.mutate(gone.id)}>bring {gone.name} back</LinkButton>
      ) : (
        <LinkButton onClick={() => archive.mutate(pool.id, { onSuccess: setGone })}>
          archive this pool (its log is kept)
        </LinkButton>
      )}
      {others.map((p) => (
        <Box key={p.id}>
          <LinkButton onClick={() => unarchive.mutate(p.id)}>bring {p.name} back</LinkButton>
        </Box>
      ))}
    </Box>
  );
}
