require('@testing-library/jest-dom');
