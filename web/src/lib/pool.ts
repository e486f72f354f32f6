// Which pool is in view: remembered on this device.
import { useKept } from "./store";

export function usePoolInView<P extends { id: string }>(
  pools: P[] | undefined,
): [P | undefined, (id: string) => void] {
  const [id, setId] = useKept<string>("kumpan.pool", "");
  return [pools?.find((p) => p.id === id) ?? pools?.[0], setId];
}
