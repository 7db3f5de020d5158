import { TestBed } from '@angular/core/testing';
import { GradeBadge } from './grade-badge';

async function drawn(
  grade: string | null,
  fitBand: number | null,
  engagementBand: number | null,
): Promise<HTMLElement> {
  const fixture = TestBed.createComponent(GradeBadge);
  fixture.componentRef.setInput('grade', grade);
  fixture.componentRef.setInput('fitBand', fitBand);
  fixture.componentRef.setInput('engagementBand', engagementBand);
  await fixture.whenStable();
  return fixture.nativeElement as HTMLElement;
}

test('a grade is its fit band in a square and one to four rising bars, and says itself in words', async () => {
  const badge = await drawn('B active', 3, 2);
  expect(badge.querySelector('.square')?.textContent).toBe('B');
  expect(badge.querySelectorAll('.bars i')).toHaveLength(4);
  expect(badge.querySelectorAll('.bars i.on')).toHaveLength(3);
  expect(badge.querySelector('[role=img]')?.getAttribute('aria-label')).toBe('Grade B active');
});

test('without a grade it says so', async () => {
  expect((await drawn(null, null, null)).textContent).toContain('no grade');
});
