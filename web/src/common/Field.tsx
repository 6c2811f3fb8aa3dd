import type { ReactNode } from 'react';

/** A control with its label above. Without an id the label is of a group of controls. */
export const Field = ({ label, id, children }: { label: ReactNode; id?: string; children: ReactNode }) => (
  <div>
    {id ? (
      <label className="field-label" htmlFor={id}>
        {label}
      </label>
    ) : (
      <span className="field-label">{label}</span>
    )}
    {children}
  </div>
);
