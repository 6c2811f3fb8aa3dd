export { ShapeEditor } from './ShapeEditor';
export { useShapes } from './queries';
