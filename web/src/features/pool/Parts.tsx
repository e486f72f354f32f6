// The Pool view's three parts.
import { PartLink, Parts } from "../../ui/Parts";

export const PoolParts = () => (
  <Parts label="Parts of the pool">
    <PartLink to="/pool" end>
      Water
    </PartLink>
    <PartLink to="/pool/targets">Targets</PartLink>
    <PartLink to="/pool/equipment">Equipment</PartLink>
  </Parts>
);
