export { ContractList } from './ContractList';
export { ContractPage } from './ContractPage';
export { ImportContract } from './ImportContract';
