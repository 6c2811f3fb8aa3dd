import { Checkbox, Input } from 'antd';
import { Link } from 'react-router';
import type { EndpointView, SoapTrigger } from '../api/types';
import { Field } from '../common/Field';
import css from './EndpointFields.module.css';

interface Props {
  soap: SoapTrigger;
  by: (change: Partial<SoapTrigger>) => void;
  kept?: EndpointView;
  /** Whether the operation's name is that of a contract's. */
  isFixed: boolean;
}

/** The service that it is an operation of. Operations of the same service have one address and one description. */
export function Service({ soap, by, kept, isFixed }: Props) {
  const wsdl = kept && `${kept.url}?wsdl`;
  return (
    <>
      <div className={css.pair}>
        <Field label="Service" id="soap-service">
          <Input
            id="soap-service"
            className="mono"
            addonBefore="/soap/"
            value={soap.service}
            onChange={(e) => by({ service: e.target.value })}
          />
        </Field>
        <Field label="Operation" id="soap-operation">
          <Input
            id="soap-operation"
            className="mono"
            disabled={isFixed}
            value={soap.operation}
            onChange={(e) => by({ operation: e.target.value })}
          />
        </Field>
      </div>
      {!isFixed && (
        <Field label="Namespace" id="soap-namespace">
          <Input
            id="soap-namespace"
            className="mono"
            placeholder={`urn:wire-kettle:${soap.service || 'Service'}`}
            value={soap.namespace ?? ''}
            onChange={(e) => by({ namespace: e.target.value || undefined })}
          />
        </Field>
      )}
      <Field label="Its description">
        <Checkbox checked={!!soap.wsdlForKeys} onChange={(e) => by({ wsdlForKeys: e.target.checked })}>
          only with a key
        </Checkbox>
      </Field>
      {wsdl && (
        <p className="small">
          <a href={wsdl} target="_blank" rel="noreferrer" className="mono">
            {wsdl}
          </a>{' '}
          <Link className="soft nowrap" to={`/contracts/import?url=${encodeURIComponent(wsdl)}`}>
            import it as a contract
          </Link>
        </p>
      )}
      <p className="soft small">
        SOAP 1.1 and 1.2 at the same address. Who asks is known by a key: as the password of a UsernameToken whose user
        is the key’s name, or in a header.
        {!isFixed && ' It declares two faults: RequestDoesNotFit lists all that does not fit, NotDone says why not.'}
      </p>
    </>
  );
}
