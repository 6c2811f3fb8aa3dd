export { SettingsPage } from './SettingsPage';
