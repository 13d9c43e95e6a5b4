export { tableState } from './migrations.ts'
export { openMessages, workState } from './state.ts'
export { listAlerts, noteTold, untoldAlerts, watchShop } from './alerts.ts'
export { installationTimes, largestTables, noteInstallation } from './installation.ts'
