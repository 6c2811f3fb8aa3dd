export { FilesPage } from './FilesPage';
export { takesFile, useFiles } from './queries';
