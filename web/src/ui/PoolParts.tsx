// The Pool view's parts.
import { PartLink, Parts } from "./Parts";

export const PoolParts = () => (
  <Parts label="Parts of the pool">
    <PartLink to="/pool" end>
      Water
    </PartLink>
    <PartLink to="/pool/targets">Targets</PartLink>
    <PartLink to="/pool/equipment">Equipment</PartLink>
    <PartLink to="/pool/machines">Machines</PartLink>
  </Parts>
);
