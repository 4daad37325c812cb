// Stands for a style sheet, which a page in a test does without.
export default {}
