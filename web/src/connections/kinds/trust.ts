import type { Group } from '../cells/cell';
import { OwnCertificateCell, TrustCell } from '../cells/CertificateCells';
import { choiceCell, flagCell } from '../cells/simple';

/** How connections by TLS are secured, whatever they lead to. */
export const TRUST: Group = {
  title: 'Trust',
  hint: 'TLS',
  rows: [
    { id: 'trust', label: 'issuers', keys: ['trust', 'trustOnly'], Cell: TrustCell },
    { id: 'own', label: 'our certificate', keys: ['ownCertificate'], Cell: OwnCertificateCell },
    {
      id: 'lowestTls',
      label: 'lowest version',
      word: 'lowest TLS version',
      keys: ['lowestTls'],
      Cell: choiceCell('lowestTls', {
        label: 'lowest TLS version',
        options: [
          { value: '', label: 'TLS 1.2 (as usual)' },
          { value: '1.3', label: 'TLS 1.3' },
        ],
      }),
    },
    {
      id: 'anyName',
      label: 'any host’s name',
      word: 'name check off',
      keys: ['anyName'],
      Cell: flagCell('anyName', {
        label: 'certificates of any host’s name',
        after: 'Whoever has a certificate of a trusted issuer can take the service’s place.',
      }),
    },
  ],
};
