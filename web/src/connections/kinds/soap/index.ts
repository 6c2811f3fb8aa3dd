import type { ConnectionKind } from '../kind';
import { ServiceSettings } from './ServiceSettings';

export const soap: ConnectionKind = {
  kind: 'soap',
  short: 'service',
  label: 'a service',
  addressLabel: 'Address of the service, for each environment',
  addressHint: 'https://',
  userHint: 'none: no log-in',
  Settings: ServiceSettings,
};
