using System.Globalization;
using Assignum.Storage;
using Assignum.Storage.Charts;
using Assignum.Storage.Companies;
using Assignum.Storage.Finding;
using Assignum.Storage.Jobs;
using Assignum.Storage.Journal;
using Assignum.Storage.People;
using Assignum.Storage.Posting;
using Assignum.Storage.Settings;
using Assignum.Storage.Uploads;
using Assignum.Web.Access;
using Assignum.Web.Demo;
using Assignum.Web.Jobs;
using Assignum.Web.Pages.Chart;
using Assignum.Web.Pages.Groups;
using Assignum.Web.Pages.Rules;
using Assignum.Web.Trails;
using Microsoft.AspNetCore.Identity;
using Serilog;

CultureInfo.DefaultThreadCurrentCulture = CultureInfo.CurrentCulture = CultureInfo.InvariantCulture;
var builder = WebApplication.CreateBuilder(args);
// An application run from its build folder finds its assets through the manifest, in every environment.
builder.WebHost.UseStaticWebAssets();
builder.Services.AddSerilog(log => log.ReadFrom.Configuration(builder.Configuration).Enrich.FromLogContext().MinimumLevel.Information()
    .MinimumLevel.Override("Microsoft", Serilog.Events.LogEventLevel.Warning).WriteTo.Console(formatProvider: CultureInfo.InvariantCulture));

var owner = builder.Configuration["ASSIGNUM_DB"] ?? throw new InvalidOperationException("ASSIGNUM_DB is not set. Give it a connection string of PostgreSQL, or start with ./run.");
Database.Migrate(owner);
builder.Services.AddSingleton(Database.Open(builder.Configuration["ASSIGNUM_DB_APP"] ?? owner));
builder.Services.AddSingleton<CompanyStore>().AddSingleton<PersonStore>().AddSingleton<ProtectionKeyStore>()
    .AddSingleton<Draft>().AddSingleton<RulebookStore>().AddSingleton<RulebookImport>().AddSingleton<EditionStore>()
    .AddSingleton<ChartStore>().AddSingleton<AccountStore>().AddSingleton<BalanceStore>().AddSingleton<MergeStore>().AddSingleton<NumberingStore>().AddSingleton<DimensionStore>()
    .AddSingleton<ChartImportStore>().AddSingleton<MappingStore>().AddSingleton<PanelMaker>().AddSingleton<JobStore>().AddSingleton<IJobWork, ChartImportWork>().AddSingleton<IJobWork, SheetReading>().AddSingleton<IJobWork, MemberSheetWork>().AddSingleton<MemberSheetStore>().AddHostedService<JobWorker>()
    .AddSingleton<GroupStore>().AddSingleton<GroupShapes>().AddSingleton<RuleStore>().AddSingleton<RuleCells>().AddSingleton<LadderStore>().AddSingleton<DraftStore>().AddSingleton<TaxStore>().AddSingleton<RulebookIntoDraft>().AddSingleton<Coverages>().AddSingleton<UploadStore>()
    .AddSingleton<RulebookCache>().AddSingleton<PostingStore>().AddSingleton<JournalStore>().AddSingleton<FlowStore>().AddSingleton<SeenStore>().AddSingleton<FormerCodes>().AddSingleton<TaxEntryStore>().AddSingleton<FindStore>()
    .AddSingleton<TrailMaker>().AddSingleton(TimeProvider.System).AddSingleton<DemoCompany>().AddSingleton<DemoCharts>().AddSingleton<IPasswordHasher<Person>, PasswordHasher<Person>>();

builder.Services.AddSignIn(builder.Configuration);
builder.Services.AddRazorPages().AddMvcOptions(mvc => mvc.Filters.Add<HandlerAccess>(int.MinValue));
builder.Services.AddAntiforgery(forgery => forgery.Cookie.Name = "assignum.form");

var app = builder.Build();
if (builder.Configuration["ASSIGNUM_DEMO"] is { Length: > 0 } demo)
    await app.Services.GetRequiredService<DemoCompany>().Make(demo, CancellationToken.None);

app.UseExceptionHandler("/error");
app.UseStatusCodePagesWithReExecute("/error", "?code={0}");
app.UseSecurityHeaders();
app.UseRouting();
app.UseAuthentication();
app.UseAuthorization();
app.MapStaticAssets().AllowAnonymous();
app.MapRazorPages();
app.MapGet("/health/live", () => "live").AllowAnonymous();
app.MapGet("/health/ready", async (CompanyStore companies, CancellationToken stop) => (await companies.All(stop)).Count >= 0 ? "ready" : "").AllowAnonymous();
await app.RunAsync();

/// <summary>Named for tests that start the application.</summary>
public partial class Program;
