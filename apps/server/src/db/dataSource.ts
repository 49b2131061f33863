import { DataSource } from 'typeorm';
import { dataSourceOptions } from './dataSourceOptions.js';

/** The data source of programs that need no server: migrations, their drift check, the demo's loader. */
export default new DataSource(dataSourceOptions());
