import { TestBed } from '@angular/core/testing';
import type { Field, FieldType } from '@relvik/core';
import { ValueField } from './value-field';

function open(type: FieldType, value: string, options: string[] = [], retiredOptions: string[] = []) {
  const fixture = TestBed.createComponent(ValueField);
  const field: Field = { key: 'f', name: 'Field', type, options, retiredOptions, retired: false };
  fixture.componentRef.setInput('id', 'f');
  fixture.componentRef.setInput('field', field);
  fixture.componentRef.setInput('value', value);
  fixture.detectChanges();
  return {
    fixture,
    component: fixture.componentInstance as unknown as { options: () => { label: string; value: string }[] | null },
    element: fixture.nativeElement as HTMLElement,
  };
}

test.each<[FieldType, string | null]>([
  ['text', 'text'],
  ['number', 'text'],
  ['date', 'date'],
  ['choice', null],
  ['yes-no', null],
  ['country', null],
])('a field of %s is filled in with the control that suits it', (type, input) => {
  const { element } = open(type, '', ['One']);
  expect(element.querySelector('input[type=text], input[type=date]:not([role])')?.getAttribute('type') ?? null).toBe(
    input,
  );
  expect(element.querySelector('p-select') !== null).toBe(input === null);
});

test('a value that can’t be read stays visible among the choices until another is chosen', () => {
  expect(
    open('choice', 'Mill', ['Brewery'])
      .component.options()
      ?.map((one) => one.label),
  ).toEqual(['Brewery', 'Mill (can’t be read)']);
  const retired = open('choice', 'Mill', ['Brewery'], ['mill']).component.options();
  expect(retired?.at(-1)?.label).toBe('Mill (no longer offered)');
  expect(open('choice', 'Brewery', ['Brewery']).component.options()).toHaveLength(1);
  expect(
    open('country', 'NO')
      .component.options()
      ?.find((one) => one.value === 'NO')?.label,
  ).toBe('Norway');
});

test('what is typed is handed on', () => {
  const { fixture, element } = open('text', '');
  const typed: string[] = [];
  fixture.componentInstance.changed.subscribe((text) => typed.push(text));
  const input = element.querySelector('input') as HTMLInputElement;
  input.value = 'Oslo';
  input.dispatchEvent(new Event('input'));
  expect(typed).toEqual(['Oslo']);
});

test('several options are chosen from those offered; one that is no longer offered stays until it is taken out', () => {
  const { element, component } = open('choices', 'Brewery; Mill', ['Brewery', 'Fish farm'], ['Mill']);
  expect(element.querySelector('p-multiselect')).not.toBeNull();
  expect(component.options()?.map((one) => one.label)).toEqual(['Brewery', 'Fish farm', 'Mill (no longer offered)']);
});
