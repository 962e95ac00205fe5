export { editPlant, isPlant, plantOfTraces, readPlant } from './edit';
export { placedOn, plantFigures, type LoopOn, type PlantFigures } from './figures';
export { PLANT_KIND, type PlantDocument } from './schema';
