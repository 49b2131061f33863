import 'reflect-metadata';
import { NestFactory } from '@nestjs/core';
import type { NestExpressApplication } from '@nestjs/platform-express';
import { AppModule } from './appModule.js';
import { configureApp } from './configureApp.js';

const port = Number(process.env['WL_PORT'] ?? 4380);
const app = await NestFactory.create<NestExpressApplication>(AppModule, {
  bodyParser: false,
  logger: ['error', 'warn'],
  forceCloseConnections: true,
});
configureApp(app);
await app.listen(port, '127.0.0.1');
console.log(`Listening on http://127.0.0.1:${port}`);
