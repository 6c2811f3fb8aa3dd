import { Input, Select } from 'antd';
import { useState } from 'react';
import type { Api, ShapeRow } from '../../api/types';
import { useContract, useContracts, useShape } from '../../contracts';
import type { CellProps } from './cell';
import css from './cells.module.css';
import { MessageRows } from './MessageRows';
import { codeOfFault } from '../../common/faults';

type SessionSettings = Api<'SessionSettings'>;

/** What SOAP itself says of header blocks has a row of the connection's own. */
const OF_SOAP = /soap[-/]envelope/;

/** Rows that take a value, of an operation's request: of its body, or of its header blocks. */
function useRows(contract: string | undefined, operation: string | undefined, isOfHeaders: boolean): ShapeRow[] {
  const isKnown = !!contract && !!operation;
  const wish = { contract: contract ?? '', operation: operation ?? '', part: 'request', kinds: {}, opened: [] };
  const rows = useShape(wish, isKnown).data ?? [];
  return (isKnown ? rows : []).filter(
    (r) => r.path.startsWith('header:') === isOfHeaders && r.hasText && !OF_SOAP.test(r.namespace),
  );
}

const useOperations = (contract: string | undefined) => {
  const view = useContract(contract || undefined);
  const ports = view.data?.services.flatMap((s) => s.ports) ?? [];
  return ports[0]?.operations ?? [];
};

function ContractSelect({ value, set, label }: { value?: string; set: (name: string) => void; label: string }) {
  const contracts = useContracts().data ?? [];
  return (
    <Select
      size="small"
      className={css.contract}
      aria-label={label}
      placeholder="contract"
      value={value || undefined}
      options={contracts.map((c) => ({ value: c.name, label: c.name }))}
      onChange={set}
    />
  );
}

/** The operation that begins a session: its request, where the token is, and what says that it has ended. */
export function SessionCell({ settings, set, of, secrets }: CellProps) {
  const s = settings.session;
  const whose = of.replace('-', ' for ');
  const operations = useOperations(s?.contract);
  const rows = useRows(s?.contract, s?.operation, false);
  const put = (change: Partial<SessionSettings>) =>
    set({ session: { contract: '', operation: '', token: '$reply/', ...s, ...change } });
  const faults = [...new Set(operations.flatMap((o) => o.faults))].map(codeOfFault);
  return (
    <span className={css.rows}>
      <span className={css.cell}>
        <ContractSelect
          label={`contract of the log-in operation${whose}`}
          value={s?.contract}
          set={(contract) => put({ contract, operation: '', fill: [] })}
        />
        <Select
          size="small"
          className={css.contract}
          aria-label={`log-in operation${whose}`}
          placeholder="operation"
          value={s?.operation || undefined}
          options={operations.map((o) => ({ value: o.name, label: o.name }))}
          onChange={(operation: string) => put({ operation, fill: [] })}
        />
        {s && (
          <button className="link soft small" onClick={() => set({ session: undefined })}>
            no session
          </button>
        )}
      </span>
      {s?.operation && (
        <>
          <MessageRows
            rows={rows}
            filled={s.fill ?? []}
            set={(fill) => put({ fill })}
            whose={whose}
            of={of}
            secrets={secrets}
          />
          <span className={css.cell}>
            <span className="soft small">token</span>
            <Input
              size="small"
              className={`mono ${css.text}`}
              aria-label={`where the token is${whose}`}
              placeholder="$reply/sessionId"
              value={s.token ?? ''}
              onChange={(e) => put({ token: e.target.value })}
            />
            <span className="soft small">again at</span>
            <Select
              size="small"
              mode="tags"
              className={css.names}
              aria-label={`failures that end the session${whose}`}
              placeholder="a fault"
              value={s.again ?? []}
              options={faults.map((value) => ({ value, label: value }))}
              onChange={(again: string[]) => put({ again })}
            />
          </span>
        </>
      )}
    </span>
  );
}

/** Header blocks of a contract, filled once for every call. */
export function MessageHeadersCell({ settings, set, of, secrets }: CellProps) {
  const [chosen, setChosen] = useState<string>();
  const contract = chosen ?? settings.session?.contract;
  const whose = of.replace('-', ' for ');
  const operation = useOperations(contract).find((o) => o.headers.length > 0)?.name;
  const known = useRows(contract, operation, true);
  const filled = settings.messageHeaders ?? [];
  // What is filled is shown, whatever contract is looked at.
  const others = filled
    .filter((f) => !known.some((r) => r.path === f.path))
    .map((f) => ({ path: f.path, name: f.path.replace(/^.*[/:]/, ''), occurs: '1' }) as ShapeRow);
  return (
    <span className={css.rows}>
      {!settings.session?.contract && (
        <ContractSelect label={`contract of the headers${whose}`} value={contract} set={setChosen} />
      )}
      {contract && !operation && !others.length && (
        <span className="soft small">No operation of {contract} has a header block.</span>
      )}
      <MessageRows
        rows={[...known, ...others]}
        filled={filled}
        proposed={settings.session ? '$login/token' : undefined}
        set={(rows) => set({ messageHeaders: rows.length ? rows : undefined })}
        whose={whose}
        of={of}
        secrets={secrets}
      />
    </span>
  );
}
