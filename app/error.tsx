'use client';

/** Where not even the frame around the screens can be made. */
export { default } from './(workshop)/error';
