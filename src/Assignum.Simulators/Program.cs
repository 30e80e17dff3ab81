// The stand-ins for the nurseries' systems, in one process. They are what a real adapter would talk to, made up.
using System.Globalization;
using Assignum.Simulators;

CultureInfo.DefaultThreadCurrentCulture = CultureInfo.CurrentCulture = CultureInfo.InvariantCulture;
await Stage.Build(args).App.RunAsync();
