export { ContractList } from './ContractList';
export { ContractPage } from './ContractPage';
export { HandMadePage } from './byhand/HandMadePage';
export { ImportContract } from './ImportContract';
export { KindSelect } from './KindSelect';
export { name, useShape, type ShapeWish } from './shape';
export { contractKeys, useContract, useContracts } from './queries';
export { useTestValues } from './TestValues';
export { fitsText, isLong, ranked, useFirst } from './first';
