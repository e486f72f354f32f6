// The Log as a stream, as graphs, and gone on with into the days ahead; and what comes into it and goes out of it.
import { PartLink, Parts } from "./Parts";

export const LogParts = () => (
  <Parts label="Ways to read the log">
    <PartLink to="/log" end>
      Stream
    </PartLink>
    <PartLink to="/log/graphs">Graphs</PartLink>
    <PartLink to="/log/ahead">Ahead</PartLink>
    <PartLink to="/log/files">In and out</PartLink>
  </Parts>
);
