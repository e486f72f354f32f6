// Before anything is written: what a file holds, how it is read, what is wrong or odd, and what would come of it.
import { Box, chakra, Flex, Text } from "@chakra-ui/react";
import { useEffect, useRef, useState } from "react";
import { Link, useNavigate, useParams } from "react-router";

import { useQueryClient } from "@tanstack/react-query";
import { refresh, useChange } from "../../api/change";
import { Problem, type Schemas } from "../../api/client";
import {
  changeMatching,
  type Matching,
  useConfirmImport,
  useImport,
  useRevertImport,
} from "../../api/imports";
import { underWay, useCancelJob } from "../../api/jobs";
import { ActButton, Field, LinkButton, Notice, Select } from "../../ui/controls";
import { Page, Waiting } from "../../ui/Page";
import { usePool } from "../../ui/PoolSwitch";
import { Bar } from "./FilesPage";
import { LogParts } from "../../ui/LogParts";
import { many, Readings } from "./ReadingsPreview";

type View = Schemas["ImportView"];
type Preview = Schemas["ReadingsPreview"];
const NAMES: Record<string, string> = {
  shelf: "products on the shelf",
  sheet_steps: "steps of work",
  events: "entries",
  entries: "other entries' details",
  steps_done: "steps done",
};

export function ImportPage() {
  const { id } = useParams();
  const client = useQueryClient();
  const go = useNavigate();
  const confirm = useConfirmImport();
  const stop = useCancelJob();
  const revert = useRevertImport();
  const view = useImport(id!);
  // While it is looked through anew, what was found last stays in view.
  const [last, setLast] = useState<Preview | null>(null);
  const found = view.data?.preview;
  if (found && found !== last) setLast(found);
  const state = view.data?.job.state;
  useEffect(() => {
    if (state === "done") void refresh(client, ["everything"]);
  }, [state, client]);
  // What the person chose shows at once; changes go to the server one after another, each on the revision the one before left.
  const [chosen, setChosen] = useState<Matching | null>(null);
  const revision = useRef(0);
  const before = useRef<Promise<unknown>>(Promise.resolve());
  const read = useChange(
    (body: Matching) => {
      const sent = before.current.then(async () => {
        const seen = Math.max(revision.current, view.data!.job.revision);
        revision.current = (await changeMatching(id!, { ...body, revision: seen })).revision;
      });
      before.current = sent.catch(() => undefined);
      return sent;
    },
    ["jobs"],
  );
  if (!view.data) return <Waiting error={view.error} />;
  const { job, account } = view.data;
  const preview = found ?? (job.stage === "check" ? last : null);
  const busy = underWay(job) || read.isPending;
  const settings = preview && (chosen ?? asked(preview));
  const change = (part: Partial<Matching>) => {
    if (!settings) return;
    setChosen({ ...settings, ...part });
    read.mutate({ ...settings, ...part }, { onError: () => setChosen(null) });
  };
  const failed = (confirm.error ?? stop.error ?? read.error) as Problem | null;
  const cancel = (
    <LinkButton onClick={() => stop.mutate(job.id, { onSuccess: () => void go("/log/files") })}>
      {job.state === "to_confirm" ? "bring nothing in" : "cancel"}
    </LinkButton>
  );
  const progress = (
    <>
      <Text role="status" fontSize="14px" mb="6px">
        {job.message}
      </Text>
      <Bar share={job.total ? job.done / job.total : 0} label={job.title} />
    </>
  );
  return (
    <Page
      above={
        <Link to="/log/files" style={{ textDecoration: "underline" }}>
          In and out
        </Link>
      }
      aside={job.title}
      headline={headline(view.data, preview)}
    >
      <LogParts />
      {failed && (
        <Box mb="16px">
          <Notice>{failed.message}</Notice>
        </Box>
      )}
      {busy && !preview && (
        <Box mb="20px">
          {progress}
          <Box mt="6px">{job.can_cancel && cancel}</Box>
        </Box>
      )}
      {(job.state === "to_confirm" || (busy && preview)) && (
        <Flex gap="12px 24px" align="end" mb="24px" wrap="wrap">
          {preview && !preview.problem && (preview.bad > 0 || preview.doubtful > 0) && (
            <Box minW="240px">
              <Field label="Leave out">
                {(p) => (
                  <Select
                    {...p}
                    value={settings!.exclude}
                    onChange={(e) => change({ exclude: e.target.value })}
                  >
                    {view.data.exclude.map((c) => (
                      <option key={c.id} value={c.id}>
                        {c.label}
                      </option>
                    ))}
                  </Select>
                )}
              </Field>
            </Box>
          )}
          <ActButton
            {...(busy || !ready(view.data)
              ? { disabled: true }
              : { bg: "act", color: "onAct", borderColor: "act" })}
            onClick={() => confirm.mutate(job)}
          >
            {button(view.data)}
          </ActButton>
          {busy ? <Box minW="200px">{progress}</Box> : <Box pb="8px">{cancel}</Box>}
          {!busy &&
            preview &&
            !preview.problem &&
            preview.bad > 0 &&
            preview.settings.exclude === "nothing" && (
              <Text fontSize="14px" color="caution" fontWeight={700} pb="10px">
                Leave out the rows that cannot be read, or mend the file and choose it again.
              </Text>
            )}
        </Flex>
      )}
      {preview && <Readings view={view.data} preview={preview} settings={settings!} change={change} />}
      {account && <Account account={account} />}
      {!preview && !account && !busy && <Outcome view={view.data} takeBack={() => revert.mutate(job.id)} />}
    </Page>
  );
}

const asked = (preview: Preview): Matching => {
  const { columns, order, decimal, method, exclude } = preview.settings;
  return {
    pool_id: preview.pool_id,
    columns: columns.map((c) => ({ role: c.role, unit: c.unit })),
    order,
    decimal,
    method,
    exclude,
  };
};

function headline({ job, account }: View, preview: Preview | null): string {
  if (job.state === "to_confirm" && account) {
    const added = account.tables.reduce((sum, t) => sum + t.added, 0);
    return added
      ? `${many(added, "record")} of this file ${added === 1 ? "is" : "are"} missing here.`
      : "Everything in this file is here already.";
  }
  if (job.stage === "check" && job.state !== "failed" && job.state !== "cancelled" && preview) {
    if (preview.problem) return preview.problem;
    const odd = [
      preview.bad && `${many(preview.bad, "row")} cannot be read`,
      preview.doubtful && `${many(preview.doubtful, "row")} look${preview.doubtful === 1 ? "s" : ""} odd`,
    ]
      .filter(Boolean)
      .join(", ");
    const first =
      preview.new || preview.notes
        ? `${many(preview.new, "new test")}${preview.notes ? ` and ${many(preview.notes, "note")}` : ""}`
        : "Nothing new";
    return `${first}${odd ? `; ${odd}` : ""}.`;
  }
  return job.message;
}

function ready({ preview, account }: View): boolean {
  if (account) return account.tables.some((t) => t.added > 0);
  return (
    !!preview &&
    !preview.problem &&
    preview.new + preview.notes > 0 &&
    !(preview.bad > 0 && preview.settings.exclude === "nothing")
  );
}

function button({ preview, account }: View): string {
  if (account) return "Bring in what is missing";
  return preview?.new ? `Bring in ${many(preview.new, "test")}` : "Bring in";
}

function Outcome({ view, takeBack }: { view: View; takeBack: () => void }) {
  const { job } = view;
  const { choose } = usePool(); // the log that opens is the one that was written to
  return (
    <Box>
      {job.problems.slice(1).map((p) => (
        <Text key={p.field} mb="4px">
          {p.message}
        </Text>
      ))}
      <Flex gap="24px" align="center" mt="8px">
        <ActButton asChild look="line">
          <Link
            to={job.state === "done" ? "/log" : "/log/files"}
            onClick={() => job.pool_id && choose(job.pool_id)}
          >
            {job.state === "done" ? "To the log" : "Choose another file"}
          </Link>
        </ActButton>
        {job.can_take_back && <LinkButton onClick={takeBack}>take it back</LinkButton>}
      </Flex>
    </Box>
  );
}

function Account({ account }: { account: Schemas["AccountPreview"] }) {
  return (
    <Box>
      <Text mb="12px">
        “{account.name}”, written out on {account.exported_at}. What is here stays as it is, even where the
        file says otherwise; only what is missing here is added.
      </Text>
      <chakra.table
        w="100%"
        maxW="640px"
        css={{
          borderCollapse: "collapse",
          "& td, & th": {
            borderTop: "1px solid var(--chakra-colors-hair)",
            padding: "8px 12px 8px 0",
            textAlign: "right",
          },
          "& th:first-of-type": { textAlign: "left" },
        }}
      >
        <thead>
          <tr>
            <th scope="col">Table</th>
            <th scope="col">added</th>
            <th scope="col">the same here</th>
            <th scope="col">other here, stays</th>
          </tr>
        </thead>
        <tbody>
          {account.tables.map((t) => (
            <tr key={t.name}>
              <th scope="row" style={{ fontWeight: 400 }}>
                {NAMES[t.name] ?? t.name}
              </th>
              <td style={{ fontWeight: t.added ? 700 : 400 }}>{t.added.toLocaleString("en-US")}</td>
              <td>{t.same.toLocaleString("en-US")}</td>
              <td>{t.differ.toLocaleString("en-US")}</td>
            </tr>
          ))}
        </tbody>
      </chakra.table>
    </Box>
  );
}
