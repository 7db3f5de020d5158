import { provideHttpClient, withInterceptors } from '@angular/common/http';
import {
  ChangeDetectionStrategy,
  Component,
  provideBrowserGlobalErrorListeners,
  provideZonelessChangeDetection,
} from '@angular/core';
import { bootstrapApplication } from '@angular/platform-browser';
import { provideRouter, RouterOutlet, withComponentInputBinding } from '@angular/router';
import { definePreset } from '@primeuix/themes';
import Aura from '@primeuix/themes/aura';
import { providePrimeNG } from 'primeng/config';
import { ROUTES } from './routes';
import { sendBackToSignIn } from './session/send-back-to-sign-in';

const WATER = {
  50: '#eaf4f3',
  100: '#d3e6e3',
  200: '#a9cfcb',
  300: '#7fb5b1',
  400: '#4f9895',
  500: '#1e7b78',
  600: '#1a6b68',
  700: '#165a58',
  800: '#124a48',
  900: '#0f3c3a',
  950: '#0a2827',
};
const SLATE = {
  0: '#ffffff',
  50: '#fbfaf6',
  100: '#f1efe7',
  200: '#e0ddd1',
  300: '#c3c4bb',
  400: '#8a948f',
  500: '#586662',
  600: '#47544f',
  700: '#36433f',
  800: '#24312e',
  900: '#12302e',
  950: '#0b1f1d',
};

const preset = definePreset(Aura, {
  semantic: {
    primary: WATER,
    focusRing: { width: '2px', style: 'solid', color: '{primary.color}', offset: '1px' },
    formField: { paddingX: '0.6rem', paddingY: '0.3rem', borderRadius: '6px' },
    colorScheme: { light: { surface: SLATE } },
  },
});

/** The whole application: one outlet. */
@Component({
  selector: 'rv-root',
  imports: [RouterOutlet],
  template: '<router-outlet />',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
class Root {}

bootstrapApplication(Root, {
  providers: [
    provideZonelessChangeDetection(),
    provideBrowserGlobalErrorListeners(),
    provideRouter(ROUTES, withComponentInputBinding()),
    provideHttpClient(withInterceptors([sendBackToSignIn])),
    providePrimeNG({
      theme: { preset, options: { darkModeSelector: '.dark', cssLayer: { name: 'primeng', order: 'primeng, app' } } },
    }),
  ],
}).catch((error: unknown) => {
  console.error(error);
});
