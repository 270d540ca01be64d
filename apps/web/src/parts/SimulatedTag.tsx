/** Stands wherever a figure stems from a simulated machine: its times and losses come from the model, not from a measurement. */
export const SimulatedTag = ({ machine }: { machine: { origin: 'measured' | 'simulated' } | null | undefined }) =>
  machine?.origin === 'simulated' ? (
    <span className="demo-tag" title="Times and losses come from the model, not from a measurement">
      simulated
    </span>
  ) : null;
