export { ContractList } from './ContractList';
export { ContractPage } from './ContractPage';
export { ImportContract } from './ImportContract';
export { KindSelect } from './KindSelect';
export { name, useShape, type ShapeWish } from './MessageShapes';
export { contractKeys, useContract, useContracts } from './queries';
