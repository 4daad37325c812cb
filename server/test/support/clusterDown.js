export default function clusterDown() {
  const cluster = globalThis.gavrinTestCluster
  if (cluster?.started) cluster.stop('fast')
}
