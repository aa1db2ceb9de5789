'use client';

import { Moon, Sun } from 'lucide-react';
import { useState } from 'react';

/** A dim bench at night, paper by day; kept in a cookie so that the page comes in the right one. */
export function ThemeSwitch({ theme: given }: { theme: 'light' | 'dark' }) {
  const [theme, setTheme] = useState(given);
  const other = theme === 'dark' ? 'light' : 'dark';
  const change = () => {
    document.documentElement.dataset.bsTheme = other;
    document.cookie = `theme=${other}; path=/; max-age=31536000; samesite=strict`;
    setTheme(other);
  };
  return (
    <button type="button" className="btn btn-quiet" onClick={change}>
      {theme === 'dark' ? <Sun size={16} aria-hidden /> : <Moon size={16} aria-hidden />}{' '}
      <span>{theme === 'dark' ? 'Day' : 'Night'}</span>
    </button>
  );
}
