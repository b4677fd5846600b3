import { pino } from 'pino';
import { serviceOptions } from './options.ts';
import { Services, setServices } from './services.ts';

/** Starts the services inside Vite's development server. */
export function startServices(): Services {
  const services = new Services(serviceOptions(pino({ name: 'web', level: process.env['AMBER_LOG'] ?? 'info' })));
  setServices(services);
  return services;
}
