// Style sheets have no part in Jest's tests.
module.exports = {};
