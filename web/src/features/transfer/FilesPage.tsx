// What comes into the log from files and goes out of it; the work that takes longer, with its progress.
import { Box, chakra, Flex, Grid, Text } from "@chakra-ui/react";
import { useState } from "react";
import { Link, useNavigate } from "react-router";
import { v7 as uuid } from "uuid";

import { useChange } from "../../api/change";
import { Problem } from "../../api/client";
import { sendFile } from "../../api/files";
import { startImport, useInbox, useRestoreImport, useRevertImport } from "../../api/imports";
import { type Job, underWay, useCancelJob, useExport, useForgetJob, useJobs } from "../../api/jobs";
import { ActButton, LinkButton, Notice } from "../../ui/controls";
import { ColumnHead, Page, Waiting } from "../../ui/Page";
import { FileInput } from "../../ui/Photos";
import { PoolSwitch, usePool } from "../../ui/PoolSwitch";
import { LogParts } from "../../ui/LogParts";

const OUT = [
  [
    "account_json",
    "Everything, as one JSON document",
    "For keeping, and for other programs. Kumpan reads it back.",
  ],
  [
    "account_csv",
    "Everything, as a folder of CSV files",
    "For spreadsheets, photos beside. Kumpan reads it back.",
  ],
] as const;
const Out = chakra(Flex, {
  base: {
    justifyContent: "space-between",
    alignItems: "center",
    gap: "16px",
    borderTop: "1px solid",
    borderColor: "hair",
    py: "10px",
  },
});

export function FilesPage() {
  const { pool, choose, pools } = usePool();
  const jobs = useJobs();
  const inbox = useInbox();
  const make = useExport();
  if (!jobs.data || !pools.data) return <Waiting error={jobs.error ?? pools.error} />;
  const asking = jobs.data.filter((j) => j.state === "to_confirm");
  const others = jobs.data.filter((j) => j.state !== "to_confirm");
  return (
    <Page
      above={pool && <PoolSwitch pool={pool} pools={pools.data} choose={choose} />}
      headline={headline(jobs.data)}
    >
      <LogParts />
      {asking.length > 0 && (
        <Box mb="32px">
          <ColumnHead title="Waits for you" />
          {asking.map((job, i) => (
            <Row key={job.id} job={job} first={i === 0} />
          ))}
        </Box>
      )}
      <Grid
        templateColumns={{ base: "minmax(0,1fr)", lg: "minmax(0,1fr) minmax(0,1fr)" }}
        gap={{ base: "28px", lg: "48px" }}
      >
        <Box>
          <ColumnHead title="Bring in" />
          <BringIn poolId={pool?.id} poolName={pool?.name} />
          {inbox.data?.folder && (
            <Text fontSize="14px" color="muted" mt="12px">
              Or drop files in{" "}
              <chakra.code fontSize="14px" overflowWrap="anywhere" color="ink">
                {inbox.data.folder}
              </chakra.code>{" "}
              in Kumpan’s data folder on the machine it runs on (the README tells where); a sub-folder named
              after a pool sends them there.
            </Text>
          )}
        </Box>
        <Box>
          <ColumnHead title="Take out" />
          {OUT.map(([kind, title, why]) => (
            <Out key={kind}>
              <Box>
                <Text fontWeight={700}>{title}</Text>
                <Text fontSize="14px" color="muted">
                  {why}
                </Text>
              </Box>
              <ActButton
                look="line"
                px="16px"
                disabled={make.isPending}
                aria-label={`Write: ${title}`}
                onClick={() => make.mutate({ id: uuid(), kind })}
              >
                Write
              </ActButton>
            </Out>
          ))}
          {pool && (
            <Out borderBottom="1px solid">
              <Box>
                <Text fontWeight={700}>{pool.name}: tests or doses alone</Text>
                <Text fontSize="14px" color="muted">
                  One line each, as CSV.
                </Text>
              </Box>
              <Flex
                gap="4px 16px"
                direction={{ base: "column", md: "row" }}
                fontSize="14px"
                whiteSpace="nowrap"
              >
                <a
                  href={`/api/v1/pools/${pool.id}/tests.csv`}
                  download
                  style={{ textDecoration: "underline" }}
                >
                  tests as CSV
                </a>
                <a
                  href={`/api/v1/pools/${pool.id}/doses.csv`}
                  download
                  style={{ textDecoration: "underline" }}
                >
                  doses as CSV
                </a>
              </Flex>
            </Out>
          )}
          {make.error && <Notice>{make.error.message}</Notice>}
        </Box>
      </Grid>
      <Box mt="36px">
        <ColumnHead title="Under way and done" />
        {others.length === 0 ? (
          <Text color="muted">
            Nothing yet. What you bring in or take out is listed here, with its progress.
          </Text>
        ) : (
          others.map((job) => <Row key={job.id} job={job} />)
        )}
      </Box>
    </Page>
  );
}

function headline(jobs: Job[]): string {
  const asking = jobs.filter((j) => j.state === "to_confirm");
  const going = jobs.find(underWay);
  if (going) return `${going.title}: ${going.message.toLowerCase()}`;
  if (asking.length)
    return asking.length === 1
      ? `${asking[0]!.title}: ready for your look.`
      : `${asking.length} files are ready for your look.`;
  return "Bring readings in, take everything out.";
}

function BringIn({ poolId, poolName }: { poolId: string | undefined; poolName: string | undefined }) {
  const go = useNavigate();
  const [share, setShare] = useState(0);
  const [over, setOver] = useState(false);
  const ask = useChange(
    async (file: File) => {
      setShare(0);
      const file_id = await sendFile(file, setShare);
      return startImport({ id: uuid(), file_id, pool_id: poolId ?? null });
    },
    ["jobs"],
  );
  const take = (files: FileList | null) => {
    const file = files?.[0];
    if (file) ask.mutate(file, { onSuccess: (job) => void go(`/log/files/${job.id}`) });
  };
  const error = ask.error as Problem | null;
  return (
    <Box
      border="1px solid"
      borderColor={over ? "ink" : "hair"}
      bg={over ? "channel" : undefined}
      borderRadius="mark"
      p="20px"
      onDragOver={(e) => {
        e.preventDefault();
        setOver(true);
      }}
      onDragLeave={() => setOver(false)}
      onDrop={(e) => {
        e.preventDefault();
        setOver(false);
        take(e.dataTransfer.files);
      }}
    >
      <Text>
        Readings of a photometer or a shop report as CSV, or everything as Kumpan wrote it out. You see what
        it holds before anything is written.
      </Text>
      {ask.isPending ? (
        <Box mt="14px">
          <Text role="status" fontSize="14px" mb="6px">
            Sending {ask.variables.name} …
          </Text>
          <Bar share={share} label="Sent" />
        </Box>
      ) : (
        <Box mt="10px">
          <FileInput
            type="file"
            aria-label="Choose a file"
            accept=".csv,.txt,.tsv,.json,.zip,text/csv"
            onChange={(e) => {
              take(e.target.files);
              e.target.value = "";
            }}
          />
        </Box>
      )}
      <Text fontSize="14px" color="muted" mt="4px">
        {poolName
          ? `Readings go to ${poolName}, unless you choose another pool then.`
          : "Readings need a pool: add one first, or bring in a whole account."}
      </Text>
      {error && (
        <Box mt="10px">
          <Notice>{error.at("pool_id") ?? error.at("size") ?? error.message}</Notice>
        </Box>
      )}
    </Box>
  );
}

/** How far, as a filled channel. */
export function Bar({ share, label }: { share: number; label: string }) {
  const percent = Math.round(100 * share);
  return (
    <Box
      role="progressbar"
      aria-label={label}
      aria-valuenow={percent}
      aria-valuemin={0}
      aria-valuemax={100}
      h="10px"
      bg="channel"
      border="1px solid"
      borderColor="muted"
      borderRadius="mark"
      maxW="480px"
    >
      <Box h="100%" bg="ink" w={`${percent}%`} />
    </Box>
  );
}

function Row({ job, first }: { job: Job; first?: boolean }) {
  const cancel = useCancelJob();
  const revert = useRevertImport();
  const restore = useRestoreImport();
  const forget = useForgetJob();
  const failed = (cancel.error ?? revert.error ?? restore.error ?? forget.error) as Problem | null;
  const ended = ["done", "failed", "cancelled"].includes(job.state);
  return (
    <Grid
      as="article"
      aria-label={job.title}
      templateColumns={{ base: "minmax(0,1fr)", md: "150px minmax(0,1fr) auto" }}
      gap={{ base: "2px", md: "24px" }}
      borderTop="1px solid"
      borderColor="hair"
      py="12px"
    >
      <Text fontSize="14px" color="muted">
        {job.when}
      </Text>
      <Box>
        <Text fontWeight={700}>{job.title}</Text>
        <Text
          fontSize="14px"
          color={job.state === "failed" ? "caution" : "muted"}
          fontWeight={job.state === "failed" ? 700 : 400}
        >
          {job.message}
        </Text>
        {job.problems.slice(job.kind === "account_in" ? 1 : job.problems.length).map((p) => (
          <Text key={p.field} fontSize="14px">
            {p.message}
          </Text>
        ))}
        {underWay(job) && (
          <Box mt="8px">
            <Bar share={job.total ? job.done / job.total : 0} label={job.title} />
          </Box>
        )}
        {failed && <Notice>{failed.message}</Notice>}
      </Box>
      <Flex gap="16px" align="start" wrap="wrap">
        {job.state === "to_confirm" && (
          <ActButton asChild px="24px" {...(first ? { bg: "act", color: "onAct", borderColor: "act" } : {})}>
            <Link to={`/log/files/${job.id}`}>Look</Link>
          </ActButton>
        )}
        {job.download && (
          <ActButton asChild look="line" px="16px">
            <a href={job.download} download>
              Take away ({size(job.size)})
            </a>
          </ActButton>
        )}
        {job.can_take_back && <LinkButton onClick={() => revert.mutate(job.id)}>take it back</LinkButton>}
        {job.taken_back && <LinkButton onClick={() => restore.mutate(job.id)}>bring it back</LinkButton>}
        {job.can_cancel && <LinkButton onClick={() => cancel.mutate(job.id)}>cancel</LinkButton>}
        {ended && !job.taken_back && (
          <LinkButton onClick={() => forget.mutate(job.id)}>off the list</LinkButton>
        )}
      </Flex>
    </Grid>
  );
}

const size = (bytes: number) =>
  bytes < 1e6 ? `${Math.max(1, Math.round(bytes / 1e3))} kB` : `${(bytes / 1e6).toFixed(1)} MB`;
