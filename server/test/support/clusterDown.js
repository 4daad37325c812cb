export default function clusterDown() {
  const { cluster, hosts } = globalThis.gavrinTest ?? {}
  for (const host of hosts ?? []) host.kill('SIGKILL')
  if (cluster?.started) cluster.stop('fast')
}
