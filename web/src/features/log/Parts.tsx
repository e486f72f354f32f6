// The Log as a stream or as graphs.
import { PartLink, Parts } from "../../ui/Parts";

export const LogParts = () => (
  <Parts label="Ways to read the log"><PartLink to="/log" end>Stream</PartLink><PartLink to="/log/graphs">Graphs</PartLink></Parts>
);
