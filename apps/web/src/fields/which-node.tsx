/** Of an element that stands at many nodes: which of them the Reasons are of. */
import { Select } from '@mantine/core';
import { useMemo } from 'react';
import { useEngine } from '../questions/engine-context.ts';
import { useBench } from '../state/bench.ts';

/** Stands for no node in particular: a level's nodes have names. */
const ANY = '';

/** Nothing for an element with one place only. Made anew with every picture, unlike what is around it. */
export function WhichNode({ id }: { id: string }) {
  const engine = useEngine();
  const shown = useBench((s) => s.info?.node);
  const chosen = useBench((s) => s.node);
  const of = shown?.of ?? 0;
  // Asked again when their number changes.
  const nodes = useMemo(() => engine.places.nodesOf(id), [engine, id, of]);
  if (!shown) return null;
  const value = chosen !== null && nodes.includes(chosen) ? chosen : ANY;
  return (
    <Select
      size="xs"
      label={`Reasons are of one of ${of} nodes`}
      description={value === ANY ? `Now of ${shown.name}` : undefined}
      data={[{ value: ANY, label: 'The one that comes farthest, then the nearest' }, ...nodes]}
      value={value}
      mb={8}
      searchable
      allowDeselect={false}
      onChange={(to) => useBench.setState({ node: to || null })}
    />
  );
}
