// The Log as a stream or as graphs; and what comes into it and goes out of it.
import { PartLink, Parts } from "./Parts";

export const LogParts = () => (
  <Parts label="Ways to read the log">
    <PartLink to="/log" end>
      Stream
    </PartLink>
    <PartLink to="/log/graphs">Graphs</PartLink>
    <PartLink to="/log/files">In and out</PartLink>
  </Parts>
);
